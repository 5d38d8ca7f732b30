/** @jsxImportSource preact */
// The player's own page: an entry of its own, so that a phone loads nothing of the instructor's screens.
import "@fontsource-variable/atkinson-hyperlegible-next/wght.css";
import "./app/styles.css";

import { render } from "preact";

import { Practice } from "./features/practice/Practice";

if (window.matchMedia("(prefers-color-scheme: dark)").matches) document.documentElement.dataset["theme"] = "dark";
const token = window.location.pathname.split("/")[2] ?? "";
render(<Practice token={token} />, document.getElementById("root")!);
if ("serviceWorker" in navigator) void navigator.serviceWorker.register("/p/sw.js", { scope: "/p/" });
