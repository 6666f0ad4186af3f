// The rehearsal: walk the station act by act, see who is held by what, break one thing, mend the order.
import { Suspense, useState } from "react";
import { words } from "../../say";
import type { Drop } from "../../state/model";
import { useSession } from "../../state/plan";
import { usePrefs } from "../../state/prefs";
import { useGoing } from "../../state/rehearsal";
import { keyOf, useKeys } from "../../ui/keys";
import { later } from "../../ui/later";
import { TabPanel, Tabs } from "../../ui/Tabs";
import { shift } from "./ActEdit";
import { Matrix } from "./Matrix";
import { Moves } from "./Moves";
import { useMending, worstOf } from "./RehearseRight";
import { Stage } from "./Stage";
import { TimeLine, ZOOMS, type Zoom } from "./TimeLine";
import { dropped } from "./through";

export { RehearseRight } from "./RehearseRight";

const People = later(() => import("./People").then((m) => m.People));
const Aloud = later(() => import("./Aloud").then((m) => m.Aloud));
const Quiz = later(() => import("./Quiz").then((m) => m.Quiz));

const PANES = ["Time line", "Acts × people", "People"] as const;
type Pane = (typeof PANES)[number];

export function Rehearse({ drop }: { drop: Drop }) {
  const { view } = useSession();
  const { units } = usePrefs();
  const { run, step, who, broken, error } = useGoing();
  const a = view.assessment.drops.find((d) => d.id === drop.id);
  const [pane, setPane] = useState<Pane>("Time line");
  const [zoom, setZoom] = useState<Zoom>("move");
  const [open, setOpen] = useState<Open>("");
  useRehearseKeys({ setPane, setZoom, setOpen });
  const worst = broken ? worstOf(broken) : null;
  return (
    <div className="flex h-full flex-col bg-[var(--void)]">
      <div className={`relative min-h-44 grow ${pane === "People" ? "hidden" : ""}`}>
        {a && step ? (
          <Stage a={a} drop={drop} step={step} who={who} broken={broken} />
        ) : (
          <div className="grid h-full place-items-center">
            <p className="quiet">
              {error
                ? "Not gone through."
                : run
                  ? "There is nothing to go through here."
                  : "Going through the station…"}
            </p>
          </div>
        )}
      </div>
      {broken && worst && pane !== "People" && (
        <p className="what-happens" role="status">
          <span className={worst.happens === "held" ? "" : "sev-Shortfall"}>{words(broken.title, units)}: </span>
          {words(worst.story, units)}
        </p>
      )}
      <section
        className={`rule-t flex flex-col bg-base-100 ${pane === "People" ? "min-h-0 grow" : "max-h-[58%] shrink-0"}`}
        aria-label="acts"
      >
        <PanelHead drop={drop} pane={pane} setPane={setPane} zoom={zoom} setZoom={setZoom} setOpen={setOpen} />
        <TabPanel group="rehearse" at={pane} className="min-h-0 overflow-auto" key={pane}>
          {pane === "Time line" && (
            <>
              <Moves whole={zoom === "whole descent"} />
              <TimeLine zoom={zoom} />
            </>
          )}
          {pane === "Acts × people" && <Matrix />}
          {pane === "People" && (
            <Suspense fallback={<p className="quiet p-4">Opening…</p>}>
              <People drop={drop} />
            </Suspense>
          )}
        </TabPanel>
        {pane === "Time line" && (
          <p className="quiet shrink-0 px-3 pb-1 text-[11.5px] max-md:hidden">
            two lines: held by two paths that share nothing · one: by one · a gap: by none · dots: a slip is no fall · ←
            → move · , . act · ↑ ↓ person · H hazard · B break · G mend
          </p>
        )}
      </section>
      <Suspense fallback={null}>
        {open === "aloud" && <Aloud drop={drop} onClose={() => setOpen("")} />}
        {open === "quiz" && <Quiz drop={drop} onClose={() => setOpen("")} />}
      </Suspense>
    </div>
  );
}

/** Which act is in view, the views of the acts, and what else can be done with them. */
function PanelHead({
  drop,
  pane,
  setPane,
  zoom,
  setZoom,
  setOpen,
}: {
  drop: Drop;
  pane: Pane;
  setPane: (p: Pane) => void;
  zoom: Zoom;
  setZoom: (z: Zoom) => void;
  setOpen: (what: Open) => void;
}) {
  const { run, n, stale } = useGoing();
  return (
    <div className="flex shrink-0 flex-wrap items-center gap-x-3 px-3">
      <h2 className="py-1 font-bold whitespace-nowrap">
        {drop.name}, act {run && run.steps.length > 0 ? `${n + 1} of ${run.steps.length}` : "–"}
      </h2>
      {stale && run && <span className="sev-Not-checked text-xs font-semibold">of an older revision</span>}
      <Tabs
        group="rehearse"
        label="views of the rehearsal"
        tabs={PANES.map((p) => ({ key: p, name: p, title: `${keyOf("nextPane")} for the next` }))}
        at={pane}
        onPick={setPane}
      />
      <span className="grow" />
      {pane === "Time line" && (
        <button
          type="button"
          className="act plain px-1"
          title="Zoom the time line (Z)"
          onClick={() => setZoom(ZOOMS[(ZOOMS.indexOf(zoom) + 1) % ZOOMS.length]!)}
        >
          {zoom}
        </button>
      )}
      <button
        type="button"
        className="act plain px-1"
        disabled={!run}
        title="Read aloud (Space)"
        onClick={() => setOpen("aloud")}
      >
        Read aloud
      </button>
      <button
        type="button"
        className="act plain px-1"
        disabled={!run}
        title="Ask the second guide (Q)"
        onClick={() => setOpen("quiz")}
      >
        Quiz
      </button>
    </div>
  );
}

type Open = "" | "aloud" | "quiz";

/** The keys of the rehearsal: what they walk through, break, mend and move. */
function useRehearseKeys({
  setPane,
  setZoom,
  setOpen,
}: {
  setPane: (next: (now: Pane) => Pane) => void;
  setZoom: (next: (now: Zoom) => Zoom) => void;
  setOpen: (what: Open) => void;
}) {
  const { edit } = useSession();
  const {
    run,
    step,
    n,
    go,
    walk,
    walkMove,
    who,
    setWho,
    state,
    broken,
    breakIt,
    spans,
    tried,
    tryFix,
    takeFix,
    ...going
  } = useGoing();
  const { stations, k, whole } = going;
  const order = run?.order ?? [];
  const turn = (by: number) =>
    order.length > 0 && setWho(order[(order.indexOf(who) + by + order.length) % order.length]!);
  const station = (by: 1 | -1) => {
    const next = stations[k + by];
    if (next) go(0, next.drop);
  };
  const hazards = hazardsOf(
    whole?.hazards ?? [],
    stations.map((s) => s.drop),
  );
  const toHazard = (by: 1 | -1) => {
    const here = (h: { drop: string; begin: number }) => stations.findIndex((s) => s.drop === h.drop) * 1e6 + h.begin;
    const now = k * 1e6 + n + 1;
    const list = [...hazards].sort((x, y) => here(x) - here(y));
    const next = by > 0 ? list.find((h) => here(h) > now) : [...list].reverse().find((h) => here(h) < now);
    const to = next ?? (by > 0 ? list[0] : list[list.length - 1]);
    if (to) go(to.begin - 1, to.drop);
  };
  // The first hazard here that can be ended by a change is the one that the key tries.
  const mendable = spans.find((s) => !s.said);
  const fixes = useMending(tried ? undefined : mendable);
  const every = [...(state?.faults ?? []), ...(state?.accepted ?? [])];
  const move = run && step ? shift(run.drop, run.steps, n) : null;
  const moveBy = (by: 1 | -1) => {
    const made = move?.(by);
    if (made && !tried) edit(made);
  };
  useKeys({
    nextMove: () => walkMove(1),
    previousMove: () => walkMove(-1),
    nextAct: () => walk(1),
    previousAct: () => walk(-1),
    firstAct: () => go(0),
    lastAct: () => go((run?.steps.length ?? 1) - 1),
    nextPerson: () => turn(1),
    previousPerson: () => turn(-1),
    nextStation: () => station(1),
    previousStation: () => station(-1),
    nextHazard: () => toHazard(1),
    previousHazard: () => toHazard(-1),
    breakNext: () => {
      const next = every[every.findIndex((f) => f.key === broken?.key) + 1];
      breakIt(next?.key ?? "");
    },
    breakNothing: () => breakIt(""),
    tryFix: () => {
      const made = fixes.data ?? [];
      const next = made[tried ? made.indexOf(tried.fix) + 1 : 0];
      if (next) tryFix(next);
    },
    takeFix: () => tried?.run && takeFix(),
    close: () => (tried ? tryFix(null) : breakIt("")),
    earlier: () => moveBy(-1),
    later: () => moveBy(1),
    dropAct: () => run && step && !tried && edit(dropped(run.drop, step.key)),
    readAloud: () => run && setOpen("aloud"),
    quiz: () => run && setOpen("quiz"),
    nextZoom: () => setZoom((z) => ZOOMS[(ZOOMS.indexOf(z) + 1) % ZOOMS.length]!),
    nextPane: () => setPane((p) => PANES[(PANES.indexOf(p) + 1) % PANES.length]!),
  });
}

function hazardsOf(list: readonly { drop: string; begin_number: number; key: string }[], drops: readonly string[]) {
  return list.filter((h) => drops.includes(h.drop)).map((h) => ({ drop: h.drop, begin: h.begin_number, key: h.key }));
}
