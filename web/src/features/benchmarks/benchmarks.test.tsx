import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, render, screen, waitFor, within } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import { Build } from "./Build";
import { AcademyRules } from "./AcademyRules";
import { Ranges } from "./Ranges";

const { GET, POST, PUT, DELETE, importAcademyRules, Problem } = vi.hoisted(() => {
  class Problem extends Error {
    constructor(
      readonly code: string,
      message: string,
      readonly status: number,
    ) {
      super(message);
    }
  }
  return { GET: vi.fn(), POST: vi.fn(), PUT: vi.fn(), DELETE: vi.fn(), importAcademyRules: vi.fn(), Problem };
});

vi.mock("@/api/client", () => ({
  seen: (revision: string) => ({ "if-match": revision }),
  Problem,
  api: { GET, POST, PUT, DELETE },
  data: async (call: Promise<{ data?: unknown }>) => (await call).data,
}));
vi.mock("@/api/hooks", () => ({
  useMe: () => undefined,
  useVersions: () => ({ data: versions, refetch: () => Promise.resolve() }),
  useCatalogue: () => ({
    isPending: false,
    data: {
      clubs: [{ id: "7-iron", label: "7-iron" }],
      drills: [drill, { ...drill, id: "towel", label: "Towel" }],
      schools: [school],
      limit_areas: [{ area: "wrist", movements: ["extension", "flexion"], sided: true }],
      metrics: [
        { id: "pelvis_turn", label: "Pelvis turn", trained: true },
        { id: "tempo", label: "Tempo", trained: false },
      ],
    },
  }),
  importAcademyRules,
  importRanges: vi.fn(),
}));

const version = (label: string, extra: object = {}) => ({
  label,
  name: label.replace(/ \d+$/, ""),
  number: 1,
  built_in: label === "builtin-4",
  in_use: label === "builtin-4",
  retired: false,
  based_on: "builtin-4",
  note: "",
  made_by: "Mara",
  made_at: null,
  ranges: 2,
  ...extra,
});
let versions = [version("builtin-4"), version("Harbour 1")];
const drill = {
  id: "peg",
  label: "Peg",
  aim: "Flat.",
  how: "How.",
  feel: "Feel.",
  equipment: "",
  dose: "",
  caution: "Stop on pain.",
  band: "",
  plain_band: "",
  picture: "",
  own: false,
};
const school = {
  axis: "pelvis",
  label: "Pelvis",
  options: [
    { id: "free", label: "Free" },
    { id: "restrained", label: "Restrained" },
  ],
};
const range = (id: string, label: string, extra: object = {}) => ({
  id,
  metric: "m",
  label,
  family: "turn",
  moment: "top",
  moment_id: "top",
  place: "top",
  change: false,
  club_class: "",
  shot: "full",
  school: "",
  population: "adult",
  low: 82,
  high: 95,
  soft_low: 3,
  soft_high: 3,
  scale: null,
  unit: "deg",
  ways: "+ closed, − open",
  words: "82° to 95° closed",
  leans: "",
  provenance: "common practice",
  note: "",
  synthetic: false,
  ...extra,
});
const ownFinding = {
  id: "own",
  label: "Ours",
  plain_label: "Ours plainly",
  phase: "top",
  level: "body",
  shown: [{ metric: "m", moment: "top", way: "above" }],
  together: "all",
  says: "It is {value}.",
  player_says: "Said.",
  tends: "That tends to.",
  drills: ["peg"],
  caution: "",
  examples: ["speaks at 108°", "is silent at 88°"],
};
const ownDrill = {
  id: "towel",
  label: "Towel",
  aim: "",
  how: "How.",
  feel: "Feel.",
  equipment: "a towel",
  dose: "",
  caution: "",
  loads: ["shoulder"],
  asks: [],
  band: null,
  picture: "chair",
};
const beside = {
  rows: [
    { id: "B5", skilled: [84, 90], own: [70, 88, 93] },
    { id: "W3a", skilled: [], own: [] },
    { id: "C2", skilled: [3], own: [3.1] },
  ],
  synthetic: true,
  own: 3,
};
const row = (id: string, extra: object = {}) => ({
  id,
  label: `Range ${id}`,
  moment: "top",
  school: "",
  swings: 12,
  players: 3,
  centre: "88°",
  spread: "4°",
  made: "80° to 96°",
  now: "82° to 95°",
  warning: "",
  outliers: [],
  values: [80, 85, 88, 91, 96],
  made_low: 80,
  made_high: 96,
  now_low: 82,
  now_high: 95,
  ...extra,
});

beforeEach(() => {
  vi.clearAllMocks();
  sessionStorage.clear();
  versions = [version("builtin-4"), version("Harbour 1")];
  GET.mockImplementation((path: string) =>
    Promise.resolve({
      data:
        path === "/api/benchmarks/differences"
          ? [{ id: "C2", label: "Tempo", before: "2.6 to 3.4", after: "2.4 to 3.6" }]
          : path === "/api/academy"
            ? { name: "Harbour", time_zone: "Europe/Lisbon", time_zones: ["Europe/Berlin", "Europe/Lisbon", "UTC"], revision: "r1" }
            : path === "/api/academy-rules"
              ? {
                  revision: 4,
                  schools: { pelvis: "free" },
                  benchmarks: "builtin-4",
                  findings: [ownFinding],
                  drills: [ownDrill],
                  worded_drills: ["peg"],
                }
              : path === "/api/benchmarks/beside"
                ? beside
                : {
                    version: version("builtin-4"),
                    ranges: [
                      range("B5", "Upper-body turn"),
                      range("W3a", "Cup", {
                        family: "wrist",
                        leans: "not above the value at address plus 3°",
                        synthetic: true,
                        provenance: "from captured swings",
                      }),
                      range("C2", "Tempo", {
                        metric: "tempo",
                        place: "",
                        moment: "whole swing",
                        moment_id: "swing",
                        low: 2.6,
                        high: 3.4,
                        words: "2.6 to 3.4 to 1",
                      }),
                    ],
                    facts: [],
                  },
    }),
  );
  POST.mockResolvedValue({ data: version("Winter 1") });
  PUT.mockResolvedValue({ data: {} });
  DELETE.mockResolvedValue({ data: {} });
});
afterEach(cleanup);

const show = (what: React.ReactNode) =>
  render(<QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>{what}</QueryClientProvider>);
const change = async (value: string) => {
  fireEvent.click(await screen.findByRole("button", { name: /^Upper-body turn/ }));
  fireEvent.change(screen.getByLabelText("High limit (deg)"), { target: { value } });
};

describe("ranges", () => {
  it("stand with their source, and what is synthetic says so", async () => {
    show(<Ranges />);
    fireEvent.click(screen.getByRole("radio", { name: "List" }));
    expect(await screen.findAllByText("common practice")).toHaveLength(2);
    expect(screen.getByText("Synthetic.")).toBeDefined();
    fireEvent.change(screen.getByLabelText("Search ranges"), { target: { value: "cup captured" } });
    expect(screen.getByText("1 of 3")).toBeDefined();
    fireEvent.change(screen.getByLabelText("Search ranges"), { target: { value: "nonsense" } });
    expect(screen.getByText("No range has all of these words.")).toBeDefined();
  });
  it("are drawn at their place on the arc beside skilled and own values", async () => {
    show(<Ranges />);
    expect(await screen.findByText("2 of our 3 players inside")).toBeDefined();
    expect(screen.getByText("a skilled player (synthetic)")).toBeDefined();
    const drawn = screen.getByRole("button", { name: /^Upper-body turn/ });
    expect(drawn.querySelectorAll('circle[fill="none"]')).toHaveLength(2);
    expect(drawn.querySelectorAll('circle[fill-opacity="0.75"]')).toHaveLength(3);
    expect(screen.getByText("not measured here")).toBeDefined();
    expect(screen.queryByText("Tempo")).toBeNull();
    fireEvent.click(screen.getByRole("button", { name: "Whole swing" }));
    expect(screen.getByText("Tempo")).toBeDefined();
    expect(screen.getByText("1 of our 1 player inside")).toBeDefined();
    expect(screen.queryByText("Upper-body turn")).toBeNull();
  });
  it("are changed together and saved as the next version", async () => {
    show(<Ranges />);
    await change("97,5");
    expect(screen.getByText(/\+ closed, − open/)).toBeDefined();
    fireEvent.click(screen.getByRole("button", { name: "Change it" }));
    expect(screen.getByText("1 change")).toBeDefined();
    expect(JSON.parse(sessionStorage.getItem("benchmark-draft")!)).toMatchObject({
      base: "builtin-4",
      changes: [{ id: "B5", low: 82, high: 97.5, lean: true }],
    });
    fireEvent.click(screen.getByRole("button", { name: "Save as next version" }));
    fireEvent.change(screen.getByLabelText("Name"), { target: { value: "Winter" } });
    fireEvent.click(screen.getByRole("button", { name: "Save" }));
    await waitFor(() => expect(POST).toHaveBeenCalled());
    expect((POST.mock.calls[0]![1] as { body: object }).body).toMatchObject({ name: "Winter", base: "builtin-4" });
    await waitFor(() => expect(sessionStorage.getItem("benchmark-draft")).toBeNull());
  });
  it("refuse limits that cannot be, before anything is sent", async () => {
    show(<Ranges />);
    await change("80");
    expect(screen.getByRole("alert").textContent).toContain("lies above the high limit 80");
    expect((screen.getByRole("button", { name: "Change it" }) as HTMLButtonElement).disabled).toBe(true);
    fireEvent.change(screen.getByLabelText("High limit (deg)"), { target: { value: "" } });
    expect(screen.getByRole("alert").textContent).toContain("give both");
  });
  it("tell the second saver, show what differs, and save on top", async () => {
    sessionStorage.setItem(
      "benchmark-draft",
      JSON.stringify({ base: "Harbour 1", changes: [{ id: "B5", low: 1, high: 2, soft_low: 0, soft_high: 0, note: null, lean: true, retire: false }] }),
    );
    versions = [version("builtin-4"), version("Harbour 2", { number: 2, made_by: "Jonas" }), version("Harbour 1")];
    POST.mockRejectedValueOnce(new Problem("overtaken", "Harbour: Harbour 2 was saved by Jonas in the meantime.", 409));
    show(<Ranges />);
    fireEvent.click(await screen.findByRole("button", { name: "Save as next version" }));
    fireEvent.click(screen.getByRole("button", { name: "Save" }));
    expect(await screen.findByText("Tempo: 2.6 to 3.4 → 2.4 to 3.6")).toBeDefined();
    expect((screen.getByRole("button", { name: "Save" }) as HTMLButtonElement).disabled).toBe(true);
    fireEvent.click(screen.getByRole("button", { name: "Save mine on top of it" }));
    await waitFor(() => expect(POST).toHaveBeenCalledTimes(2));
    expect((POST.mock.calls[1]![1] as { body: { base: string } }).body.base).toBe("Harbour 2");
  });
});

describe("ranges from swings", () => {
  it("say what they rest on, list outliers, and can be left out one by one", async () => {
    POST.mockResolvedValue({
      data: {
        swings: 12,
        players: [{ id: "p1", name: "Ilse", swings: 12 }],
        tags: ["skilled"],
        warning: "Rests on little: 3 of 8 players.",
        synthetic: false,
        rows: [row("B5", { outliers: ["Ilse, swing 2: 120°"] }), row("C2")],
      },
    });
    show(<Build />);
    expect(await screen.findByText(/Rests on little/)).toBeDefined();
    expect(screen.getByText("1 outlier left out")).toBeDefined();
    const drawn = screen.getAllByRole("img", { name: "5 swings; they make 80° to 96°, now 82° to 95°" })[0]!;
    const dots = [...drawn.querySelectorAll("circle")].map((c) => Number(c.getAttribute("cx")));
    const band = drawn.querySelector("rect")!;
    expect(dots).toHaveLength(5);
    expect(dots).toEqual([...dots].sort((a, b) => a - b)); // from least to most, as they are
    expect([dots[0], dots[4]]).toEqual([Number(band.getAttribute("x")), Number(band.getAttribute("x")) + Number(band.getAttribute("width"))]);
    fireEvent.click(screen.getByLabelText("Use C2"));
    fireEvent.click(screen.getByRole("button", { name: "Make 1 ranges" }));
    await waitFor(() => expect(POST.mock.calls.some((c) => c[0] === "/api/cohorts/ranges")).toBe(true));
    const body = (POST.mock.calls.find((c) => c[0] === "/api/cohorts/ranges")![1] as { body: object }).body;
    expect(body).toMatchObject({ leave_out: ["C2"], tag: "skilled", name: "From our swings" });
  });
  it("have nothing to build from in words", async () => {
    POST.mockResolvedValue({ data: { swings: 0, players: [], tags: [], warning: "", synthetic: false, rows: [] } });
    show(<Build />);
    expect(await screen.findByText(/Nothing to build from yet/)).toBeDefined();
    expect((screen.getByRole("button", { name: "Make 0 ranges" }) as HTMLButtonElement).disabled).toBe(true);
  });
});

describe("the academy's own", () => {
  it("lives by the clock that is chosen", async () => {
    PUT.mockResolvedValue({ data: { name: "Harbour", time_zone: "Europe/Berlin", time_zones: ["Europe/Berlin"] } });
    show(<AcademyRules />);
    const zone = (await screen.findByLabelText("Time zone")) as HTMLSelectElement;
    expect(zone.value).toBe("Europe/Lisbon");
    fireEvent.change(zone, { target: { value: "Europe/Berlin" } });
    await waitFor(() =>
      expect(PUT).toHaveBeenCalledWith("/api/academy/clock", { params: { header: { "if-match": "r1" } }, body: { time_zone: "Europe/Berlin" } }),
    );
  });

  it("words a drill its own way and goes back, care untouched", async () => {
    show(<AcademyRules />);
    fireEvent.click(await screen.findByRole("button", { name: /^Peg · our wording/ }));
    expect(within(screen.getByRole("dialog")).getByText("Stop on pain.")).toBeDefined();
    fireEvent.change(screen.getByLabelText("How"), { target: { value: "Our way." } });
    fireEvent.click(screen.getByRole("button", { name: "Save our wording" }));
    await waitFor(() => expect(PUT).toHaveBeenCalledTimes(1));
    expect((PUT.mock.calls[0]![1] as { body: object }).body).toEqual({ label: "Peg", how: "Our way.", feel: "Feel.", revision: 4 });
  });
  it("makes a finding of measures that have ranges, each once, with a sentence to begin with", async () => {
    show(<AcademyRules />);
    fireEvent.click(await screen.findByRole("button", { name: "New finding" }));
    const sheet = within(screen.getByRole("dialog"));
    const add = sheet.getByLabelText("Add a measure");
    await waitFor(() =>
      expect(
        within(add)
          .getAllByRole("option")
          .map((o) => o.textContent),
      ).toEqual(["Choose a measure …", "Tempo", "Upper-body turn, top"]),
    );
    fireEvent.change(sheet.getByLabelText("Name"), { target: { value: "Rushed" } });
    fireEvent.change(add, { target: { value: "tempo@swing" } });
    expect((sheet.getByLabelText("What you read") as HTMLTextAreaElement).value).toBe("Tempo: {value}, {over} {past} than the band.");
    fireEvent.change(sheet.getByLabelText("Side of Tempo"), { target: { value: "below" } });
    fireEvent.change(sheet.getByLabelText("What the player hears"), { target: { value: "The swing back is quick." } });
    fireEvent.change(sheet.getByLabelText("Add to drills"), { target: { value: "peg" } });
    fireEvent.click(sheet.getByRole("button", { name: "Save" }));
    await waitFor(() => expect(PUT).toHaveBeenCalledTimes(1));
    expect(PUT.mock.calls[0]![0]).toBe("/api/academy-rules/findings");
    expect((PUT.mock.calls[0]![1] as { body: object }).body).toMatchObject({
      id: "",
      revision: 4,
      label: "Rushed",
      plain_label: "Rushed",
      shown: [{ metric: "tempo", moment: "swing", way: "below" }],
      together: "all",
      drills: ["peg"],
    });
    await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
  });
  it("changes a finding, says where it speaks, and takes it out", async () => {
    show(<AcademyRules />);
    fireEvent.click(await screen.findByRole("button", { name: /^Ours/ }));
    expect(screen.getByText("It speaks at 108°; it is silent at 88°.")).toBeDefined();
    fireEvent.click(screen.getByRole("button", { name: "the value in words" }));
    fireEvent.click(screen.getByRole("button", { name: "Save" }));
    await waitFor(() => expect(PUT).toHaveBeenCalledTimes(1));
    expect((PUT.mock.calls[0]![1] as { body: object }).body).toMatchObject({ id: "own", says: "It is {value}. {value}", drills: ["peg"] });
    fireEvent.click(await screen.findByRole("button", { name: /^Ours/ }));
    fireEvent.click(screen.getByRole("button", { name: "Take out" }));
    await waitFor(() => expect(DELETE).toHaveBeenCalledTimes(1));
  });
  it("leaves a condition of a file that says more as it is", async () => {
    const shown = ownFinding.shown;
    ownFinding.shown = [];
    try {
      show(<AcademyRules />);
      fireEvent.click(await screen.findByRole("button", { name: /^Ours/ }));
      expect(screen.getByText(/^As the file says/)).toBeDefined();
      fireEvent.click(screen.getByRole("button", { name: "Save" }));
      await waitFor(() => expect((PUT.mock.calls[0]![1] as { body: { shown: object[] } }).body.shown).toEqual([]));
    } finally {
      ownFinding.shown = shown;
    }
  });
  it("makes a drill with what it asks, its band and its picture", async () => {
    show(<AcademyRules />);
    fireEvent.click(await screen.findByRole("button", { name: "New drill" }));
    const sheet = within(screen.getByRole("dialog"));
    fireEvent.change(sheet.getByLabelText("Name"), { target: { value: "Stop" } });
    fireEvent.change(sheet.getByLabelText("How"), { target: { value: "Stop at the top." } });
    fireEvent.change(sheet.getByLabelText("Feel"), { target: { value: "Still." } });
    fireEvent.change(sheet.getByLabelText("Picture"), { target: { value: "pump" } });
    expect(sheet.getByRole("img", { name: "arms up and down" })).toBeDefined();
    fireEvent.change(sheet.getByLabelText("Add what it asks"), { target: { value: "wrist" } });
    fireEvent.change(sheet.getByLabelText("Movement of the wrist"), { target: { value: "flexion" } });
    const measure = sheet.getByLabelText("Measure of the band");
    expect(within(measure).queryByText("Tempo")).toBeNull(); // cannot be trained
    fireEvent.change(measure, { target: { value: "pelvis_turn" } });
    expect(sheet.getByRole("alert").textContent).toContain("one side at least");
    expect((sheet.getByRole("button", { name: "Save" }) as HTMLButtonElement).disabled).toBe(true);
    fireEvent.change(sheet.getByLabelText("Low"), { target: { value: "30" } });
    fireEvent.click(sheet.getByRole("button", { name: "Save" }));
    await waitFor(() => expect(PUT).toHaveBeenCalledTimes(1));
    expect((PUT.mock.calls[0]![1] as { body: object }).body).toMatchObject({
      label: "Stop",
      picture: "pump",
      asks: [{ area: "wrist", movement: "flexion", side: "", amount: null }],
      band: { metric: "pelvis_turn", start: "takeaway", end: "top", low: 30, high: null },
    });
  });
  it("opens its own drill whole, with all that it had", async () => {
    show(<AcademyRules />);
    fireEvent.click(await screen.findByRole("button", { name: /^Towel · ours/ }));
    fireEvent.click(screen.getByRole("button", { name: "Save" }));
    await waitFor(() => expect(PUT).toHaveBeenCalledTimes(1));
    const { id, ...rest } = ownDrill;
    expect((PUT.mock.calls[0]![1] as { body: object }).body).toEqual({ ...rest, id, revision: 4 });
  });
  it("shows what is wrong with a file of findings", async () => {
    importAcademyRules.mockRejectedValue(new Problem("data_file", 'own.toml, line 3: finding "a" is its own cause', 422));
    show(<AcademyRules />);
    fireEvent.change(await screen.findByLabelText("File of findings and drills"), { target: { files: [new File(["x"], "own.toml")] } });
    expect((await screen.findByRole("alert")).textContent).toContain("own.toml, line 3");
  });
  it("changes the default school", async () => {
    show(<AcademyRules />);
    fireEvent.click(await screen.findByRole("radio", { name: "Restrained" }));
    await waitFor(() => expect((PUT.mock.calls[0]![1] as { body: object }).body).toEqual({ schools: { pelvis: "restrained" } }));
  });
});
