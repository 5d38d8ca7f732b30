import { useState } from "react";

import { Choice } from "@/shared/ui/controls";
import { TopLine } from "@/shared/ui/TopLine";

import { Build } from "./Build";
import { Facts } from "./Facts";
import { AcademyRules } from "./AcademyRules";
import { MeasureAgain } from "./MeasureAgain";
import { Ranges } from "./Ranges";
import { References } from "./References";
import { tr } from "@/lib/language";

type Part = "ranges" | "facts" | "build" | "references" | "academy-rules" | "measure-again";
const PARTS: { id: Part; label: string }[] = [
  { id: "ranges", label: tr("Ranges") },
  { id: "build", label: tr("Build from swings") },
  { id: "references", label: tr("References") },
  { id: "academy-rules", label: tr("Schools, drills, findings") },
  { id: "facts", label: tr("Rules of thumb") },
  { id: "measure-again", label: tr("Measure again") },
];

/** What swings are judged by, where it comes from, and how an academy makes it its own. */
export function Benchmarks() {
  const [part, setPart] = useState<Part>("ranges");
  return (
    <div className="flex h-full flex-col">
      <TopLine title={tr("Benchmarks")} />
      <div className="flex-none border-b border-hairline px-7">
        <Choice label={tr("Part")} value={part} options={PARTS} onChange={setPart} />
      </div>
      <div className="min-h-0 flex-1">
        {part === "ranges" ? (
          <Ranges />
        ) : part === "build" ? (
          <Build />
        ) : part === "references" ? (
          <References onBuild={() => setPart("build")} />
        ) : part === "academy-rules" ? (
          <AcademyRules />
        ) : part === "measure-again" ? (
          <MeasureAgain />
        ) : (
          <Facts />
        )}
      </div>
    </div>
  );
}
