import type { Tone, When } from "./tones";
import type { Vocabulary } from "./words";

/** What this screen remembers: light or dark, words, side of the bottom bar, follow. */
export interface Settings {
  theme: "light" | "dark" | "system";
  words: Vocabulary;
  bar: "left" | "right";
  follow: boolean;
  sound: boolean;
  /** Ask where the pressure was felt before it is shown. */
  askFirst: boolean;
  trainerTone: Tone;
  trainerWhen: When;
  /** 0 to 1. */
  trainerVolume: number;
  /** Ask what was felt in a repetition before it is shown. */
  guessFirst: boolean;
}

const KEY = "finearc-settings";
const INITIAL: Settings = {
  theme: "system",
  words: "plain",
  bar: "right",
  follow: false,
  sound: true,
  askFirst: true,
  trainerTone: "reed",
  trainerWhen: "inside",
  trainerVolume: 0.35,
  guessFirst: false,
};

let current: Settings = read();
const listeners = new Set<() => void>();

function read(): Settings {
  try {
    return { ...INITIAL, ...(JSON.parse(localStorage.getItem(KEY) ?? "{}") as Partial<Settings>) };
  } catch {
    return INITIAL;
  }
}

export function settings(): Settings {
  return current;
}

export function change(part: Partial<Settings>): void {
  current = { ...current, ...part };
  localStorage.setItem(KEY, JSON.stringify(current));
  applyTheme();
  listeners.forEach((listener) => listener());
}

export function subscribe(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

export function isDark(): boolean {
  if (current.theme !== "system") return current.theme === "dark";
  return window.matchMedia("(prefers-color-scheme: dark)").matches;
}

export function applyTheme(): void {
  document.documentElement.dataset.theme = isDark() ? "dark" : "light";
}
