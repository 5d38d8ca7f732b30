import { QueryClientProvider } from "@tanstack/react-query";
import { fireEvent, render, screen, waitFor } from "@testing-library/react";
import { afterEach, expect, it } from "vitest";

import { keys } from "@/api/keys";
import { newQueryClient } from "@/api/queries";
import { lesson } from "@/testing/lesson";
import { closeScreen, serve } from "@/testing/screen";

import { LimitsSheet } from "./LimitsSheet";
import { PlanClash } from "./PlanClash";
import { usePlan } from "./usePlan";

afterEach(closeScreen);

const clash = (theirs: object) =>
  new Response(JSON.stringify({ code: "changed_meanwhile", message: "Ines Vale changed this.", theirs, revision: "r2" }), { status: 412 });
const choice = (finding: string) => ({ finding, label: `Label ${finding}`, drill: "", why: "w", override_reason: "" });
const before = (answer: object) => {
  const answers = [answer];
  return () => answers.shift() ?? lesson({});
};

function Plan() {
  const { keep, drop } = usePlan("L", "r1");
  return (
    <>
      <PlanClash keep={keep} drop={drop} proposed={[choice("proposed")]} />
      <button onClick={() => keep.mutate({ priorities: [choice("mine")] })}>Keep</button>
      <button onClick={() => drop.mutate(undefined)}>As proposed</button>
    </>
  );
}
const planned = (answers: Parameters<typeof serve>[0]) => {
  const asked = serve(answers);
  render(
    <QueryClientProvider client={newQueryClient()}>
      <Plan />
    </QueryClientProvider>,
  );
  return asked;
};
const theirs = { note: "", priorities: [choice("theirs")] };

it("priorities that a colleague kept meanwhile are shown beside one's own, and one's own are saved on top", async () => {
  const asked = planned({ "PUT /api/lessons/L/plan": before(clash(theirs)) });
  fireEvent.click(screen.getByText("Keep"));
  expect((await screen.findByRole("radio", { name: /Theirs/ })).textContent).toContain("Label theirs");
  expect(screen.getByRole("radio", { name: /Yours/ }).getAttribute("aria-checked")).toBe("true");
  fireEvent.click(screen.getByRole("button", { name: "Save what is chosen" }));
  await waitFor(() => expect(screen.queryByRole("alert")).toBeNull());
  expect(asked.map((a) => [a.seen, a.body])).toEqual([
    ['"r1"', { priorities: [choice("mine")] }],
    ['"r2"', { priorities: [choice("mine")] }],
  ]);
});

it("going back to the proposal asks too, and theirs can stay", async () => {
  const asked = planned({ "DELETE /api/lessons/L/plan": before(clash(theirs)), "PUT /api/lessons/L/plan": () => lesson({}) });
  fireEvent.click(screen.getByText("As proposed"));
  expect((await screen.findByRole("radio", { name: /Yours/ })).textContent).toContain("Label proposed");
  fireEvent.click(screen.getByRole("radio", { name: /Theirs/ }));
  fireEvent.click(screen.getByRole("button", { name: "Save what is chosen" }));
  await waitFor(() => expect(screen.queryByRole("alert")).toBeNull());
  expect(asked[1]!.body).toEqual({ priorities: [choice("theirs")] });
});

it("going back to the proposal all the same drops the plan on top of theirs", async () => {
  const asked = planned({ "DELETE /api/lessons/L/plan": before(clash(theirs)) });
  fireEvent.click(screen.getByText("As proposed"));
  fireEvent.click(await screen.findByRole("button", { name: "Save what is chosen" }));
  await waitFor(() => expect(asked.map((a) => a.seen)).toEqual(['"r1"', '"r2"']));
});

it("where a colleague changed something else, one's own plan is saved by one button", async () => {
  const asked = planned({ "PUT /api/lessons/L/plan": before(clash({ note: "Theirs.", priorities: [choice("mine")] })) });
  fireEvent.click(screen.getByText("Keep"));
  expect((await screen.findByRole("alert")).textContent).toContain("takes nothing of it away");
  expect(screen.queryByRole("radio")).toBeNull();
  fireEvent.click(screen.getByRole("button", { name: "Save mine" }));
  await waitFor(() => expect(asked.map((a) => a.seen)).toEqual(['"r1"', '"r2"']));
});

it("a pain that a colleague noted is not taken back unseen: both are shown", async () => {
  const asked = serve({ "PATCH /api/lessons/L": before(clash({ pain: "yes", pain_note: "low back" })) });
  const client = newQueryClient();
  const shown = lesson({ pain: "" });
  client.setQueryData(keys.lesson("L"), shown);
  render(
    <QueryClientProvider client={client}>
      <LimitsSheet open onClose={() => undefined} lesson={shown} catalogue={{ limit_areas: [] } as never} />
    </QueryClientProvider>,
  );
  fireEvent.click(screen.getByRole("button", { name: "No pain" }));
  const [pain, where] = await screen.findAllByRole("radiogroup");
  expect(pain!.textContent).toContain("YoursNo painTheirsPain");
  expect(where!.textContent).toContain("low back");
  for (const theirs of screen.getAllByRole("radio", { name: /Theirs/ })) fireEvent.click(theirs);
  fireEvent.click(screen.getByRole("button", { name: "Save what is chosen" }));
  await waitFor(() => expect(asked).toHaveLength(2));
  expect(asked[1]).toMatchObject({ seen: '"r2"', body: { pain: "yes", pain_note: "low back" } });
});
