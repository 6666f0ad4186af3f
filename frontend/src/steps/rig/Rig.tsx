// Rig: the cutaway over the load path, the anchor and the rope system.
import { useContext, useEffect, useRef, useState } from "react";
import { Cutaway } from "../../cutaway/Cutaway";
import { LitContext, PulledContext, type PulledView } from "../../cutaway/Scene";
import type { Drop, DropAssessment } from "../../state/model";
import { applyEdits, onlyState } from "../../state/edits";
import { useSession } from "../../state/plan";
import { WhichContext } from "../../state/which";
import { typing } from "../../ui/keys";
import { Anchor } from "./Anchor";
import { BenchView } from "./Bench";
import { Courtesy } from "./Courtesy";
import { Inspections } from "./Inspections";
import { LoadPath } from "./LoadPath";
import { Patterns } from "./Patterns";
import { SeveralBench } from "./SeveralBench";
import { TwoPostsBench } from "./TwoPostsBench";
import { Pull } from "./Pull";
import { Ropes } from "./Ropes";
import { Systems, useSystems } from "./Systems";

const TABS = [{ key: "path", name: "Rock to rider", letter: "r" }, { key: "anchor", name: "Tied to", letter: "w" }, { key: "patterns", name: "Patterns", letter: "p" }, { key: "ropes", name: "Rope system", letter: "s" }, { key: "ways", name: "Every way", letter: "v" }, { key: "pull", name: "Pull", letter: "l" }, { key: "inspections", name: "Found in place", letter: "i" }, { key: "states", name: "Courtesy", letter: "c" }] as const;
type Tab = (typeof TABS)[number]["key"];

export function Rig({ drop: full, index, a: whole }: { drop: Drop; index: number; a: DropAssessment }) {
  const { plan, edit, draft: drafted } = useSession();
  const draft = drafted !== null;
  const { which, setWhich } = useContext(WhichContext);
  const drop = onlyState(full, which);
  const a = which === 1 && whole.last ? whole.last : whole;
  const rig = drop.station.states[0]!.rig;
  const unrigged = rig.kind === "none";
  const [lit, setLit] = useState("");
  const [pulled, setPulled] = useState<PulledView | null>(null);
  const [tab, setTab] = useState<Tab>(unrigged ? "anchor" : "path");
  const now = useRef({ a, edit });
  now.current = { a, edit };
  const [nexts, setNexts] = useState(0);
  useEffect(() => { if (unrigged) setTab("anchor"); }, [drop.id]); // eslint-disable-line
  useEffect(() => {
    const listen = (e: KeyboardEvent) => {
      if (typing(e.target) || e.ctrlKey || e.metaKey || e.altKey || document.querySelector("dialog[open]")) return;
      const t = TABS.find((x) => x.letter === e.key);
      if (t) setTab(t.key);
      const flip = now.current.a.retrieval.side.flip;
      if (e.key === "x" && flip.length) now.current.edit(applyEdits(flip));
      if (e.key === "n") setNexts((n) => n + 1);
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, []);
  const margin = plan.policies?.margin ?? { kind: "peak" as const };
  const policy = margin.kind === "peak" ? "amber: 2.0 × its peak" : margin.kind === "static ratio" ? "amber: 10 × its static load" : `amber: ${margin.times} × its peak`;
  return (
    <div className="flex h-full flex-col">
      <div className="relative min-h-0 grow">
        <LitContext.Provider value={lit}>
          <PulledContext.Provider value={tab === "pull" ? pulled : null}><Cutaway a={a} drop={drop} index={index} pinned={tab === "anchor"} corner={tab !== "path" && tab !== "anchor" ? null : a.bench ? <BenchView a={a} drop={drop} index={index} lit={lit} /> : rig.kind === "several" ? <SeveralBench a={a} drop={drop} index={index} lit={lit} /> : a.two && rig.kind === "two posts" ? <TwoPostsBench two={a.two} webbing={rig.webbing} drop={drop} index={index} lit={lit} /> : null} /></PulledContext.Provider>
        </LitContext.Provider>
        {whole.last && (
            <span className="absolute top-2 right-3 flex items-center gap-1 rounded bg-base-100/85 p-1 text-[13px]" role="group" aria-label="state in view">
              {["party", "last person"].map((n, i) => (
                <button key={n} type="button" aria-pressed={which === i} onClick={() => setWhich(i)} className={`cursor-pointer rounded border px-2 py-0.5 ${which === i ? "border-accent font-bold" : "quiet border-[var(--rule)]"}`}>{n}</button>
              ))}
            </span>
          )}
      </div>
      {nexts > 0 && <Next key={nexts} drop={drop} />}
      <div className={`flex shrink-0 flex-col border-t border-[var(--rule)] bg-base-100 ${tab === "ways" ? "h-[58%]" : "h-[278px]"}`}>
        <div className="rule-b flex gap-0.5 px-2" role="tablist">
          {TABS.map((t) => (
            <button key={t.key} type="button" role="tab" aria-selected={tab === t.key} title={`${t.name} (${t.letter.toUpperCase()})`} onClick={() => setTab(t.key)}
              className={`cursor-pointer px-2 py-1.5 text-[13px] whitespace-nowrap ${tab === t.key ? "border-b-[3px] border-accent font-bold" : "quiet hover:text-base-content"}`}>{t.name}</button>
          ))}
        </div>
        <div className="min-h-0 grow overflow-y-auto px-4 py-2">
          {tab === "path" && <LoadPath drop={drop} parts={a.parts} policy={policy} onLight={setLit} />}
          {tab === "anchor" && <Anchor drop={drop} a={a} />}
          {tab === "patterns" && <Patterns drop={drop} />}
          {tab === "ropes" && <Ropes drop={drop} a={a} />}
          {tab === "ways" && <Systems drop={drop} />}
          {tab === "pull" && <Pull drop={drop} a={a} frozen={draft} onPulled={setPulled} />}
          {tab === "inspections" && <Inspections drop={drop} />}
          {tab === "states" && <Courtesy drop={full} whole={whole} />}
        </div>
      </div>
    </div>
  );
}

/** Asked for once: puts the way after the one in use, in the order of the comparison, into the plan. */
function Next({ drop }: { drop: Drop }) {
  const { edit } = useSession();
  const query = useSystems(drop);
  const done = useRef(false);
  useEffect(() => {
    if (done.current || !query.data || query.isPlaceholderData) return;
    done.current = true;
    const ways = query.data.ways;
    const next = ways[(ways.findIndex((w) => w.in_use) + 1) % Math.max(1, ways.length)];
    if (next && !next.in_use) edit(applyEdits(next.edits));
  }, [query.data, query.isPlaceholderData]); // eslint-disable-line
  return null;
}
