// Rig: the cutaway over the load path, the anchor and the rope system.
import { Suspense, useContext, useEffect, useRef, useState } from "react";
import { Cutaway } from "../../cutaway/Cutaway";
import { LitContext, Pulling } from "../../cutaway/Strands";
import { applyEdits, onlyState } from "../../state/edits";
import type { Drop, DropAssessment } from "../../state/model";
import { useDragging, useSession } from "../../state/plan";
import { useSystems } from "../../state/systems";
import { WhichContext } from "../../state/which";
import { useWanted } from "../../ui/goto";
import { type Act, keyOf, useKeys } from "../../ui/keys";
import { later } from "../../ui/later";
import { TabPanel, Tabs } from "../../ui/Tabs";
import { Anchor } from "./Anchor";
import { BenchView } from "./Bench";
import { Inspections } from "./Inspections";
import { LoadPath } from "./LoadPath";
import { Ropes } from "./Ropes";
import { SeveralBench } from "./SeveralBench";
import { TwoPostsBench } from "./TwoPostsBench";

const Courtesy = later(() => import("./Courtesy").then((m) => m.Courtesy));
const Systems = later(() => import("./Systems").then((m) => m.Systems));
const Pull = later(() => import("./Pull").then((m) => m.Pull));
const Patterns = later(() => import("./Patterns").then((m) => m.Patterns));

const TABS = [
  { key: "path", name: "Rock to rider" },
  { key: "anchor", name: "Tied to" },
  { key: "patterns", name: "Patterns" },
  { key: "ropes", name: "Rope system" },
  { key: "ways", name: "Every way" },
  { key: "pull", name: "Pull" },
  { key: "inspections", name: "Found in place" },
  { key: "states", name: "Courtesy" },
] as const satisfies readonly { key: Act; name: string }[];
type Tab = (typeof TABS)[number]["key"];

/** Which tab has which of a drop's fields. */
const FIELDS_OF: Partial<Record<Tab, RegExp>> = {
  ropes: /\/(system|pulled_lies|deviations|traverse)\b/,
  inspections: /\/inspections\b/,
  anchor: /\/(rig|features|hanging|together)\b/,
  path: /\/accepted\b/,
};

export function Rig({ drop: full, index, a: whole }: { drop: Drop; index: number; a: DropAssessment }) {
  const { view, edit } = useSession();
  const draft = useDragging();
  const { which, setWhich } = useContext(WhichContext);
  const drop = onlyState(full, which);
  const a = which === 1 && whole.last ? whole.last : whole;
  const rig = drop.station.states[0]!.rig;
  const unrigged = rig.kind === "none";
  const [lit, setLit] = useState("");
  const wanted = useWanted();
  const [tab, setTab] = useState<Tab>(unrigged ? "anchor" : "path");
  const [nexts, setNexts] = useState(0);
  useEffect(() => {
    for (const part of [Courtesy, Patterns, Pull, Systems]) part.fetch().catch(() => undefined);
  }, []);
  // biome-ignore lint/correctness/useExhaustiveDependencies: only another drop turns to the anchor
  useEffect(() => {
    if (unrigged) setTab("anchor");
  }, [drop.id]);
  useEffect(() => {
    const tabs = wanted ? Object.entries(FIELDS_OF).filter(([, of]) => of.test(wanted.field)) : [];
    if (tabs[0]) setTab(tabs[0][0] as Tab);
    if (tabs[0] && wanted?.field.includes("/states/1/")) setWhich(1);
  }, [wanted, setWhich]);
  const flip = a.retrieval.side.flip;
  useKeys({
    ...Object.fromEntries(TABS.map((t) => [t.key, () => setTab(t.key)])),
    flip: flip.length ? () => edit(applyEdits(flip)) : undefined,
    nextWay: () => setNexts((n) => n + 1),
  });
  return (
    <Pulling>
      <div className="flex h-full flex-col">
        <div className="relative min-h-0 grow">
          <LitContext.Provider value={lit}>
            <Cutaway
              a={a}
              drop={drop}
              index={index}
              pinned={tab === "anchor"}
              corner={
                tab !== "path" && tab !== "anchor" ? null : a.bench ? (
                  <BenchView a={a} drop={drop} index={index} lit={lit} />
                ) : rig.kind === "several" ? (
                  <SeveralBench a={a} drop={drop} index={index} lit={lit} />
                ) : a.two && rig.kind === "two posts" ? (
                  <TwoPostsBench two={a.two} webbing={rig.webbing} drop={drop} index={index} lit={lit} />
                ) : null
              }
            />
          </LitContext.Provider>
          {whole.last && (
            <span
              className="absolute top-2 right-3 flex items-center gap-1 rounded bg-base-100/85 p-1 text-[13px]"
              role="group"
              aria-label="state in view"
            >
              {["party", "last person"].map((n, i) => (
                <button
                  key={n}
                  type="button"
                  aria-pressed={which === i}
                  onClick={() => setWhich(i)}
                  className={`state-button ${which === i ? "on" : "quiet"}`}
                >
                  {n}
                </button>
              ))}
            </span>
          )}
        </div>
        {nexts > 0 && <Next key={nexts} drop={drop} />}
        <div className={`lower-panel ${tab === "ways" ? "h-[58%]" : "h-[278px] max-h-[58%]"}`}>
          <Tabs
            group="rig"
            label="views of the station"
            tabs={TABS.map((t) => ({ key: t.key, name: t.name, title: `${t.name} (${keyOf(t.key)})` }))}
            at={tab}
            onPick={setTab}
            className="rule-b px-2"
          />
          <TabPanel group="rig" at={tab} className="min-h-0 grow overflow-y-auto px-4 py-2">
            {tab === "path" && (
              <LoadPath key={which} drop={drop} parts={a.parts} policy={view.assessment.margin.asks} onLight={setLit} />
            )}
            {tab === "anchor" && <Anchor drop={drop} a={a} />}
            {tab === "patterns" && (
              <Suspense>
                <Patterns drop={drop} />
              </Suspense>
            )}
            {tab === "ropes" && <Ropes drop={drop} a={a} />}
            {tab === "ways" && (
              <Suspense>
                <Systems drop={drop} />
              </Suspense>
            )}
            {tab === "pull" && (
              <Suspense>
                <Pull drop={drop} a={a} frozen={draft} />
              </Suspense>
            )}
            {tab === "inspections" && <Inspections drop={drop} />}
            {tab === "states" && (
              <Suspense>
                <Courtesy drop={full} whole={whole} />
              </Suspense>
            )}
          </TabPanel>
        </div>
      </div>
    </Pulling>
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
  }, [edit, query.data, query.isPlaceholderData]);
  return null;
}
