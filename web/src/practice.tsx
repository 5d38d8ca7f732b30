// The player's own page: an entry of its own, so that a phone loads nothing of the instructor's screens.
import "@fontsource-variable/atkinson-hyperlegible-next/wght.css";
import "./app/styles.css";

import { keptManner } from "./features/practice/manner";
import { begin } from "./lib/speech";

if (window.matchMedia("(prefers-color-scheme: dark)").matches) document.documentElement.dataset["theme"] = "dark";
const token = window.location.pathname.split("/")[2] ?? "";
await begin(keptManner(token), () => import("@/lib/generated/words/practice.es.json"));
const { show } = await import("./features/practice/show");
show(token, document.getElementById("root")!);
if ("serviceWorker" in navigator) void navigator.serviceWorker.register("/p/sw.js", { scope: "/p/" });
