import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, render, screen, waitFor, within } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import { CauseGraph } from "./CauseGraph";
import { OwnSheet } from "./OwnSheet";
import { Plan } from "./Plan";

const PUT = vi.fn();
const POST = vi.fn();
const DELETE = vi.fn();
const GET = vi.fn();
let lesson: Record<string, unknown> = {};
let words = "standard";

vi.mock("@/api/client", () => ({
  seen: (revision: string) => ({ "if-match": revision }),
  isClash: () => false,
  api: {
    PUT: (...a: unknown[]) => PUT(...a) as unknown,
    POST: (...a: unknown[]) => POST(...a) as unknown,
    DELETE: (...a: unknown[]) => DELETE(...a) as unknown,
    GET: (...a: unknown[]) => GET(...a) as unknown,
  },
  data: async (call: Promise<{ data?: unknown }>) => (await call).data,
}));
vi.mock("@/api/hooks", () => ({
  useLesson: () => ({ data: lesson }),
  useCatalogue: () => ({ data: catalogue }),
  useChangeLesson: () => ({ mutate: vi.fn() }),
  useChangeSwing: () => ({ mutate: vi.fn() }),
  usePutLesson: () => vi.fn(),
  useRefresh: () => () => Promise.resolve(),
  useUndo: () => ({ undo: { mutate: vi.fn() }, redo: { mutate: vi.fn() } }),
  useVersions: () => ({
    data: [
      { label: "builtin-4", built_in: true, in_use: true, retired: false },
      { label: "Ours 1", built_in: false, in_use: false, retired: false },
    ],
  }),
}));
vi.mock("@tanstack/react-router", () => ({ useParams: () => ({ lessonId: "l1" }), useNavigate: () => vi.fn() }));
vi.mock("./SinceLast", () => ({ SinceLast: () => null }));
vi.mock("@/lib/settings", () => ({ settings: () => settings[words], subscribe: () => () => undefined }));

const settings: Record<string, object> = { standard: { words: "standard" }, plain: { words: "plain" } };
const finding = (id: string, drills: string[]) => ({
  id,
  label: `Label ${id}`,
  plain_label: `Plain ${id}`,
  drills,
  phase: "top",
  tends: "",
  note: "",
  metric: "m",
  moment: "top",
  own: false,
});
const drill = (id: string) => ({
  id,
  label: `Drill ${id}`,
  aim: "",
  how: "How.",
  feel: "Feel it.",
  equipment: "",
  dose: "Ten.",
  caution: id === "d1" ? "Slow first." : "",
  band: "",
  plain_band: "",
  picture: "",
  own: false,
});
const catalogue = {
  findings: [finding("a", ["d1", "d2"]), finding("b", ["d2"]), finding("c", [])],
  drills: [drill("d1"), drill("d2")],
  limit_areas: [],
  schools: [
    {
      axis: "pelvis",
      label: "Pelvis",
      options: [
        { id: "free", label: "Free", explained: "" },
        { id: "restrained", label: "Restrained", explained: "" },
      ],
    },
  ],
};
const proposal = (id: string, extra: object = {}) => ({
  finding: id,
  label: `Label ${id}`,
  plain_label: `Plain ${id}`,
  why: `Why ${id}. Rule.`,
  plain_why: `Plainly ${id}. Rule.`,
  rule: "phase",
  over: null,
  explains: [],
  drills: ["d1"],
  withheld: [],
  contradiction: "",
  matched: [],
  caution: "",
  ...extra,
});
const node = (finding: string, explained_by: string | null = null, extra: object = {}) => ({
  finding,
  label: `Label ${finding}`,
  plain_label: `Plain ${finding}`,
  layer: 0,
  root: finding,
  explained_by,
  status: "finding",
  strength: "clear",
  shown: 5,
  assessed: 5,
  ...extra,
});
const target = { metric: "m", moment: "top", sentence: "Value: 1° in 4 of 5.", plain_sentence: "Plain value." };
const seen = (finding: string) => ({ finding, label: `Label ${finding}`, plain_label: `Plain ${finding}`, shown: 5, assessed: 5, caution: "", target });
const summary = (extra: object = {}) => ({
  club: "7-iron",
  counting: 5,
  findings: [seen("a"), seen("b"), seen("c")],
  not_assessed: [],
  proposals: [proposal("a"), proposal("b", { drills: ["d2"] })],
  good: ["Tempo: 3.0 to 1"],
  plain_good: ["Beat: 3 to 1"],
  spreads: [],
  graph: [node("a"), node("b", "a")],
  matched: [],
  held: [],
  withheld: [],
  flight: { words: ["slice"], seen: 5, start: "straight", curve: "trail", start_count: 5, curve_count: 4, told: false },
  ...extra,
});
const lessonOf = (extra: object = {}, own: object = {}) => ({
  id: "l1",
  status: "running",
  planned: false,
  priorities: [],
  club: "7-iron",
  swings: [1, 2, 3, 4, 5],
  pain: "no",
  pain_note: "",
  note: "",
  next_date: null,
  can_undo: null,
  benchmarks: "builtin-4",
  schools: { pelvis: "free" },
  trainer_bands: {
    d1: { words: "Wrist 0° to 30°, takeaway to top (relative to address)", plain_words: "Cup 0° to 30°, takeaway to top (relative to address)" },
  },
  player: { id: "p", handedness: "right", walk_in: false, consent: true, limits: [] },
  summaries: [summary(own)],
  ...extra,
});

beforeEach(() => {
  vi.clearAllMocks();
  sessionStorage.clear();
  words = "standard";
  lesson = lessonOf();
  PUT.mockResolvedValue({ data: {} });
  POST.mockResolvedValue({ data: { nothing: true, counting: 5, verdicts: [], gone: [], new: [], before: [], after: [], versions: [] } });
  GET.mockResolvedValue({ data: [] });
});
afterEach(cleanup);

const show = () =>
  render(
    <QueryClientProvider client={new QueryClient()}>
      <Plan />
    </QueryClientProvider>,
  );
const sent = () => (PUT.mock.calls[0]![1] as { body: { priorities: { finding: string; override_reason: string; drill: string }[] } }).body.priorities;

describe("the plan", () => {
  it("says what to keep first, then two priorities with why, drill, care and retest", () => {
    show();
    expect(screen.getByText(/Tempo: 3.0 to 1/)).toBeDefined();
    expect(screen.getByRole("heading", { name: "1 Label a" })).toBeDefined();
    expect(screen.getByText("Why a. Rule.")).toBeDefined();
    expect(screen.getByText("Slow first.")).toBeDefined();
    expect(screen.getByText("Trainer band: Wrist 0° to 30°, takeaway to top (relative to address).")).toBeDefined();
    expect(screen.getAllByText("Value: 1° in 4 of 5.")).toHaveLength(2);
    expect(screen.getByText("5 of 5 start straight, 4 of 5 curve right", { exact: false })).toBeDefined();
  });
  it("keeps to one vocabulary", () => {
    words = "plain";
    show();
    expect(screen.getByRole("heading", { name: "1 Plain a" })).toBeDefined();
    expect(screen.getByText("Plainly a. Rule.")).toBeDefined();
    expect(screen.getAllByText("Plain value.")).toHaveLength(2);
    expect(screen.queryByText(/Label a/)).toBeNull();
  });
  it("leaves out, swaps, and puts another finding first, never more than two", async () => {
    show();
    fireEvent.click(screen.getAllByRole("button", { name: "Leave out" })[0]!);
    await waitFor(() => expect(PUT).toHaveBeenCalledTimes(1));
    expect(sent().map((p) => p.finding)).toEqual(["b"]);
    PUT.mockClear();
    fireEvent.click(await screen.findByRole("button", { name: "Swap" }));
    await waitFor(() => expect(PUT).toHaveBeenCalledTimes(1));
    expect(sent().map((p) => p.finding)).toEqual(["b", "a"]);
    PUT.mockClear();
    fireEvent.click(screen.getByRole("button", { name: "Label c" }));
    await waitFor(() => expect(PUT).toHaveBeenCalledTimes(1));
    expect(sent().map((p) => p.finding)).toEqual(["c", "a"]);
  });
  it("asks why where it departs from the proposal, and keeps the answer", async () => {
    lesson = lessonOf({ planned: true, priorities: [{ rank: 1, finding: "c", label: "Label c", drill: "", why: "", override_reason: "" }] });
    show();
    const reason = screen.getByLabelText("Why this instead of what is proposed");
    fireEvent.change(reason, { target: { value: "He asked for it." } });
    fireEvent.blur(reason);
    await waitFor(() => expect(PUT).toHaveBeenCalledTimes(1));
    expect(sent()[0]!.override_reason).toBe("He asked for it.");
    fireEvent.click(screen.getByRole("button", { name: "More" }));
    expect(screen.getByRole<HTMLButtonElement>("button", { name: /^As proposed/ }).disabled).toBe(false);
  });
  it("offers no drill that is withheld, and says why", () => {
    lesson = lessonOf(
      {},
      { proposals: [proposal("a", { drills: ["d2"] })], withheld: [{ drill: "d1", label: "Drill d1", reason: "it asks for more back turn" }] },
    );
    show();
    expect(screen.queryByRole("button", { name: "Drill d1" })).toBeNull();
    expect(screen.getByText(/is not offered: it asks for more back turn/)).toBeDefined();
  });
  it("says a contradiction, a matched set, pain and what a limit holds back", () => {
    lesson = lessonOf(
      { pain: "yes" },
      {
        proposals: [proposal("a", { contradiction: "But the balls show a hook.", matched: ["x"] })],
        matched: [{ id: "m", label: "M", says: "They belong together.", player_says: "", shown: 4 }],
        held: ["Turn at top: we work inside it"],
      },
    );
    show();
    expect(screen.getByText("But the balls show a hook.")).toBeDefined();
    expect(screen.getByText(/They belong together/)).toBeDefined();
    expect(screen.getByText(/pain today/)).toBeDefined();
    expect(screen.getByText("Turn at top: we work inside it.")).toBeDefined();
  });
  it("says what changed since it was last seen", () => {
    sessionStorage.setItem("proposed-l1", JSON.stringify(["b"]));
    show();
    expect(within(screen.getByRole("status")).getByText(/Now first: Label a, before: label b\. Rule\./)).toBeDefined();
  });
  it("has nothing to change, or nothing that counts yet", () => {
    lesson = lessonOf({}, { proposals: [], findings: [], graph: [] });
    const { unmount } = show();
    expect(screen.getByRole("heading", { name: "Nothing to change." })).toBeDefined();
    unmount();
    lesson = lessonOf({}, { proposals: [], findings: [], graph: [], counting: 0 });
    show();
    expect(screen.getByRole("heading", { name: "No swing counts yet." })).toBeDefined();
  });
  it("closed, changes nothing", () => {
    lesson = lessonOf({ status: "closed", priorities: [{ rank: 1, finding: "a", label: "Label a", drill: "d1", why: "", override_reason: "Because." }] });
    show();
    expect(screen.queryByRole("button", { name: "Leave out" })).toBeNull();
    expect(screen.getByText("Chosen because: Because.")).toBeDefined();
    expect(screen.getByRole("button", { name: "Reopen" })).toBeDefined();
  });
  it("asks what another school would change, and keeps nothing by itself", async () => {
    show();
    fireEvent.keyDown(window, { key: "j" });
    fireEvent.click(await screen.findByRole("radio", { name: "Restrained" }));
    expect(await screen.findByText("Nothing would change over these 5 swings.")).toBeDefined();
    expect(POST.mock.calls.map((c) => c[0] as string)).toEqual(["/api/lessons/{lesson_id}/what-if"]);
    fireEvent.click(screen.getByRole("button", { name: "Keep it" }));
    await waitFor(() => expect(POST.mock.calls.at(-1)![0]).toBe("/api/lessons/{lesson_id}/terms"));
  });
});

describe("the drawing of causes", () => {
  it("numbers the priorities, dashes hints, and says how many swings", () => {
    render(<CauseGraph nodes={[node("a"), node("b", "a", { status: "hint", shown: 1 })] as never} ranked={["a"]} words="plain" />);
    const drawing = screen.getByRole("img", { name: "What comes from what" });
    expect(within(drawing).getByText("1")).toBeDefined();
    expect(within(drawing).getByText("1 of 5 · a hint")).toBeDefined();
    expect(drawing.querySelector("path[stroke-dasharray]")).not.toBeNull();
  });
  it("is empty in words", () => {
    render(<CauseGraph nodes={[]} ranked={[]} words="plain" />);
    expect(screen.getByText(/Nothing stands out/)).toBeDefined();
  });
});

describe("a priority of one's own", () => {
  it("needs words and a reason, and carries no finding", () => {
    const onAdd = vi.fn();
    render(<OwnSheet open onClose={() => undefined} drills={[drill("d1")] as never} onAdd={onAdd} />);
    const put = screen.getByRole("button", { name: "Put it first" });
    expect((put as HTMLButtonElement).disabled).toBe(true);
    fireEvent.change(screen.getByLabelText(/What to work on/), { target: { value: " Breathe " } });
    fireEvent.change(screen.getByLabelText("Why it comes first"), { target: { value: "Seen." } });
    fireEvent.click(put);
    expect(onAdd).toHaveBeenCalledWith({ finding: "", label: "Breathe", drill: "", why: "", override_reason: "Seen." });
  });
});
