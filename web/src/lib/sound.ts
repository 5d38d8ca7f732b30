/** Short tones: countdown, captured, refused. Loud and immediate. */
let context: AudioContext | null = null;

function audio(): AudioContext | null {
  if (typeof AudioContext === "undefined") return null;
  context ??= new AudioContext();
  if (context.state === "suspended") void context.resume();
  return context;
}

export function tone(frequency: number, seconds: number, volume = 0.35): void {
  const ctx = audio();
  if (!ctx) return;
  const start = ctx.currentTime;
  const oscillator = ctx.createOscillator();
  const gain = ctx.createGain();
  oscillator.frequency.value = frequency;
  gain.gain.setValueAtTime(0.0001, start);
  gain.gain.exponentialRampToValueAtTime(volume, start + 0.01);
  gain.gain.exponentialRampToValueAtTime(0.0001, start + seconds);
  oscillator.connect(gain).connect(ctx.destination);
  oscillator.start(start);
  oscillator.stop(start + seconds + 0.02);
}

export const sounds = {
  count: () => tone(660, 0.09),
  done: () => tone(990, 0.28),
  captured: () => tone(784, 0.16),
  refused: () => tone(196, 0.5),
};
