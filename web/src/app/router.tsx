import { createRootRoute, createRoute, createRouter, lazyRouteComponent, Outlet } from "@tanstack/react-router";

import { STEPS, type StepId } from "@/lib/putts";

import { Shell } from "./Shell";
import { tr } from "@/lib/language";

const root = createRootRoute({
  component: Outlet,
  notFoundComponent: () => (
    <main className="p-10">
      <h1 className="text-4xl font-bold">{tr("There is nothing here.")}</h1>
      <a className="mt-4 inline-flex min-h-14 items-center text-xl underline" href="/">
        {tr("Back to today")}
      </a>
    </main>
  ),
});
const signedIn = createRoute({ getParentRoute: () => root, id: "signed-in", component: Shell });
const today = createRoute({
  getParentRoute: () => signedIn,
  path: "/",
  component: lazyRouteComponent(() => import("@/features/today/Today"), "Today"),
});
export interface DiarySearch {
  day?: string | undefined;
  by?: "week" | "people" | "bays" | undefined;
  who?: string | undefined;
}
const diary = createRoute({
  getParentRoute: () => signedIn,
  path: "/diary",
  validateSearch: (search: Record<string, unknown>): DiarySearch => ({
    ...(typeof search["day"] === "string" && /^\d{4}-\d{2}-\d{2}$/.test(search["day"]) ? { day: search["day"] } : {}),
    ...(search["by"] === "week" || search["by"] === "people" || search["by"] === "bays" ? { by: search["by"] } : {}),
    ...(typeof search["who"] === "string" && search["who"] ? { who: search["who"] } : {}),
  }),
  component: lazyRouteComponent(() => import("@/features/diary/Diary"), "Diary"),
});
const players = createRoute({
  getParentRoute: () => signedIn,
  path: "/players",
  component: lazyRouteComponent(() => import("@/features/player/Players"), "Players"),
});
const player = createRoute({
  getParentRoute: () => signedIn,
  path: "/players/$playerId",
  component: lazyRouteComponent(() => import("@/features/player/PlayerPage"), "PlayerPage"),
});
const round = createRoute({
  getParentRoute: () => signedIn,
  path: "/rounds/$roundId",
  component: lazyRouteComponent(() => import("@/features/rounds/RoundPage"), "RoundPage"),
});
const benchmarks = createRoute({
  getParentRoute: () => signedIn,
  path: "/benchmarks",
  component: lazyRouteComponent(() => import("@/features/benchmarks/Benchmarks"), "Benchmarks"),
});
const bays = createRoute({
  getParentRoute: () => signedIn,
  path: "/bays",
  component: lazyRouteComponent(() => import("@/features/bays/Bays"), "Bays"),
});
const search = createRoute({
  getParentRoute: () => signedIn,
  path: "/search",
  validateSearch: (search: Record<string, unknown>): { q?: string; as?: "lessons" | "table" } => ({
    ...(typeof search["q"] === "string" && search["q"] ? { q: search["q"] } : {}),
    ...(search["as"] === "table" ? { as: "table" as const } : {}),
  }),
  component: lazyRouteComponent(() => import("@/features/search/Search"), "Search"),
});
const lesson = createRoute({
  getParentRoute: () => signedIn,
  path: "/lessons/$lessonId",
  component: lazyRouteComponent(() => import("@/features/lesson/LessonFrame"), "LessonFrame"),
});
const fit = createRoute({
  getParentRoute: () => lesson,
  path: "/",
  component: lazyRouteComponent(() => import("@/features/lesson/Fit"), "Fit"),
});
const setup = createRoute({
  getParentRoute: () => lesson,
  path: "/setup",
  component: lazyRouteComponent(() => import("@/features/lesson/Setup"), "Setup"),
});
const capture = createRoute({
  getParentRoute: () => lesson,
  path: "/capture",
  component: lazyRouteComponent(() => import("@/features/lesson/Capture"), "Capture"),
});
const markers = createRoute({
  getParentRoute: () => lesson,
  path: "/markers",
  component: lazyRouteComponent(() => import("@/features/lesson/Markers"), "Markers"),
});
const swing = createRoute({
  getParentRoute: () => lesson,
  path: "/swings/$swingId",
  component: lazyRouteComponent(() => import("@/features/swing/SwingPage"), "SwingPage"),
});
const plan = createRoute({
  getParentRoute: () => lesson,
  path: "/plan",
  component: lazyRouteComponent(() => import("@/features/plan/Plan"), "Plan"),
});
export interface CompareSearch {
  a?: string;
  b?: string;
  metric?: string;
  moment?: string;
}
const compare = createRoute({
  getParentRoute: () => lesson,
  path: "/compare",
  validateSearch: (search: Record<string, unknown>): CompareSearch =>
    Object.fromEntries(["a", "b", "metric", "moment"].flatMap((k) => (typeof search[k] === "string" && search[k] ? [[k, search[k]]] : []))),
  component: lazyRouteComponent(() => import("@/features/compare/Compare"), "Compare"),
});
const table = createRoute({
  getParentRoute: () => lesson,
  path: "/table",
  component: lazyRouteComponent(() => import("@/features/table/Table"), "Table"),
});
export interface PuttingSearch {
  step?: StepId;
  /** The distance that is looked at, m. */
  far?: number | "none";
  putt?: string;
  rate?: boolean;
  /** Of the matched set: what is about to be changed. */
  piece?: string;
}
const putting = createRoute({
  getParentRoute: () => lesson,
  path: "/putting",
  validateSearch: (search: Record<string, unknown>): PuttingSearch => ({
    ...(STEPS.includes(search["step"] as StepId) ? { step: search["step"] as StepId } : {}),
    ...(typeof search["far"] === "number" || search["far"] === "none" ? { far: search["far"] } : {}),
    ...(typeof search["putt"] === "string" && search["putt"] ? { putt: search["putt"] } : {}),
    ...(search["rate"] === true ? { rate: true } : {}),
    ...(typeof search["piece"] === "string" && search["piece"] ? { piece: search["piece"] } : {}),
  }),
  component: lazyRouteComponent(() => import("@/features/putting/Putting"), "Putting"),
});
const show = createRoute({
  getParentRoute: () => signedIn,
  path: "/lessons/$lessonId/show/$swingId",
  component: lazyRouteComponent(() => import("@/features/show/Show"), "Show"),
});
const train = createRoute({
  getParentRoute: () => signedIn,
  path: "/lessons/$lessonId/train",
  component: lazyRouteComponent(() => import("@/features/train/Train"), "Train"),
});
const live = createRoute({
  getParentRoute: () => signedIn,
  path: "/lessons/$lessonId/live",
  component: lazyRouteComponent(() => import("@/features/live/Live"), "Live"),
});
const screen = createRoute({
  getParentRoute: () => root,
  path: "/screen",
  component: lazyRouteComponent(() => import("@/features/screen/Screen"), "Screen"),
});
const phone = createRoute({
  getParentRoute: () => root,
  path: "/phone",
  component: lazyRouteComponent(() => import("@/features/phone/Phone"), "Phone"),
});

const join = createRoute({
  getParentRoute: () => root,
  path: "/join/$token",
  component: lazyRouteComponent(() => import("@/features/signin/Join"), "Join"),
});
const people = createRoute({
  getParentRoute: () => signedIn,
  path: "/people",
  component: lazyRouteComponent(() => import("@/features/people/People"), "People"),
});

export const routeTree = root.addChildren([
  phone,
  join,
  screen,
  signedIn.addChildren([
    today,
    diary,
    players,
    round,
    player,
    benchmarks,
    bays,
    search,
    people,
    lesson.addChildren([fit, setup, capture, markers, swing, plan, compare, table, putting]),
    show,
    train,
    live,
  ]),
]);
export const router = createRouter({ routeTree });

declare module "@tanstack/react-router" {
  interface Register {
    router: typeof router;
  }
}
