import "@fontsource-variable/atkinson-hyperlegible-next/wght.css";
import "./app/styles.css";

import { begin, kept } from "@/lib/speech";

// in which language is settled first: texts are said as soon as what says them is loaded
await begin(kept(), () => import("@/lib/generated/words/es.json"));
const { start } = await import("./app/start");
start(document.getElementById("root")!);
