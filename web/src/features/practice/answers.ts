import type { Schemas } from "@/api/client";

export type Page = Schemas["PlayerPracticeOut"];
export type Plan = Schemas["PracticeOut"];
export type Block = Schemas["PracticeBlockOut"];
export type Answer = Schemas["AnswerIn"];

/** The page as it is once what was said here has arrived: shown before it has. */
export function applied(page: Page, said: Answer[]): Page {
  return said.reduce(one, page);
}

function one(page: Page, answer: Answer): Page {
  const { plan } = page;
  if (!plan) return page;
  if (answer.kind === "pain")
    return { ...page, days: {}, plan: { ...plan, stopped: plan.stopped || page.when_it_hurts, blocks: plan.blocks.filter((b) => b.done) } };
  if (answer.plan !== plan.id) return page;
  const blocks = plan.blocks.map((b) => (b.number === answer.block ? changed(b, answer) : b));
  return { ...page, plan: { ...plan, blocks: blocks.sort((a, b) => a.day.localeCompare(b.day)) } };
}

function changed(block: Block, answer: Answer): Block {
  switch (answer.kind) {
    case "done":
      return { ...block, done: true };
    case "undone":
      return { ...block, done: false };
    case "felt":
      return { ...block, feel: answer.feel ?? block.feel };
    case "no_pain":
      return { ...block, pain_free: true };
    case "moved":
      return { ...block, day: answer.to ?? block.day };
    default:
      return block;
  }
}

/** An answer with a name of its own, by which it counts once however often it is sent. */
export function answered(plan: Plan, kind: Answer["kind"], block: Block | null, more: Partial<Answer> = {}): Answer {
  const of = block ? { block: block.number, day: block.day, minutes: block.minutes } : {};
  return { key: crypto.randomUUID(), kind, plan: plan.id, at: new Date().toISOString(), minutes: 0, where: "", ...of, ...more };
}

/** The block that is looked at first: today's, else the first to come, else the first that was left. */
export function firstOf(plan: Plan, today: string): Block | null {
  const open = plan.blocks.filter((b) => !b.done);
  return plan.blocks.find((b) => b.day === today && !b.done) ?? plan.blocks.find((b) => b.day === today) ?? open.find((b) => b.day > today) ?? open[0] ?? null;
}

/** The day by the phone's own clock. */
export function dayHere(now = new Date()): string {
  return [now.getFullYear(), String(now.getMonth() + 1).padStart(2, "0"), String(now.getDate()).padStart(2, "0")].join("-");
}
