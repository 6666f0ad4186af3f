// One plan open at one step. Each step is loaded when it is first opened, and the others once this one stands.
import { type ReactNode, Suspense, useEffect, useState } from "react";
import { Navigate, useParams } from "react-router";
import { CheckProvider } from "../state/check";
import { DescentProvider } from "../state/descent";
import type { Drop, DropAssessment } from "../state/model";
import { PlanProvider, useDragged, useSession } from "../state/plan";
import { RehearsalProvider } from "../state/rehearsal";
import { WhichContext } from "../state/which";
import { Findings } from "../ui/Findings";
import { Frame, STEPS, type StepKey } from "../ui/Frame";
import { later } from "../ui/later";
import { Message } from "../ui/Message";
import { DropRight } from "../ui/Right";

const Survey = later(() => import("./survey/Survey").then((m) => m.Survey));
const Shed = later(() => import("./shed/Shed").then((m) => m.Shed));
const Rig = later(() => import("./rig/Rig").then((m) => m.Rig));
const Descent = later(() => import("./descent/Descent").then((m) => m.Descent));
const DescentRight = later(() => import("./descent/Descent").then((m) => m.DescentRight));
const Rehearse = later(() => import("./rehearse/Rehearse").then((m) => m.Rehearse));
const RehearseRight = later(() => import("./rehearse/Rehearse").then((m) => m.RehearseRight));
const Card = later(() => import("./card/Card").then((m) => m.Card));
const CardRight = later(() => import("./card/Card").then((m) => m.CardRight));
const Log = later(() => import("./log/Log").then((m) => m.Log));
const LogRight = later(() => import("./log/Log").then((m) => m.LogRight));
const PARTS = {
  survey: [Survey],
  shed: [Shed],
  rig: [Rig],
  descent: [Descent, DescentRight],
  rehearse: [Rehearse, RehearseRight],
  card: [Card, CardRight],
  log: [Log, LogRight],
} satisfies Record<StepKey, readonly { fetch: () => Promise<void> }[]>;

/** The steps that show one drop. */
const OF_DROP = { survey: Survey, rig: Rig } satisfies Record<
  Exclude<StepKey, "shed" | "descent" | "rehearse" | "card" | "log">,
  unknown
>;

/** Fetches what shows a step, before it is opened. */
export async function loadStep(step: string) {
  const found = STEPS.find((s) => s.key === step);
  await Promise.all((found ? PARTS[found.key] : []).map((part) => part.fetch()));
}

function Opening({ children }: { children: ReactNode }) {
  return <Suspense fallback={<p className="quiet p-8">Opening…</p>}>{children}</Suspense>;
}

export function PlanPage() {
  const { id = "", step = "rig", drop = "" } = useParams();
  // A step must open even if the server is gone by then: fetched ahead, it does.
  useEffect(() => {
    for (const s of STEPS) loadStep(s.key).catch(() => undefined);
  }, []);
  const found = STEPS.find((s) => s.key === step);
  if (!found) return <Navigate to={`/plans/${id}/rig`} replace />;
  return (
    <PlanProvider
      key={id}
      id={id}
      loading={<Message title="Opening the plan…" text="" />}
      failed={(p) => <Message title="This plan cannot be opened" text={p.detail} />}
    >
      <Step step={found.key} dropId={drop} />
    </PlanProvider>
  );
}

function Step({ step, dropId }: { step: StepKey; dropId: string }) {
  const { plan, view } = useSession();
  const drops = plan.drops ?? [];
  const index = Math.max(
    0,
    drops.findIndex((d) => d.id === dropId),
  );
  const drop = drops[index];
  const [which, setWhich] = useState(0);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another drop starts with its first state
  useEffect(() => setWhich(0), [dropId]);
  const inView = step === "rig" && (drop?.station.states.length ?? 1) > which ? which : 0;
  const a = view.assessment.drops.find((d) => d.id === drop?.id);
  if (step === "shed") {
    const named = new Set<string>();
    const ropes = view.assessment.drops
      .flatMap((d) => d.findings)
      .filter(
        (f) =>
          ["rope.nominal", "rope.length"].includes(f.code) && !named.has(f.subject.part) && named.add(f.subject.part),
      );
    return (
      <Frame
        step={step}
        dropId={drop?.id ?? ""}
        right={
          <>
            <h1 className="mb-1 text-lg font-bold">Shed and party</h1>
            <p className="quiet mb-3">
              What this plan may use. Removing something that a station uses leaves that station not checked.
            </p>
            <Findings findings={[...view.assessment.findings, ...ropes]} />
            {view.assessment.findings.length + ropes.length === 0 && (
              <p>Nothing is missing here that the drops ask for.</p>
            )}
          </>
        }
      >
        <Opening>
          <Shed />
        </Opening>
      </Frame>
    );
  }
  if (step === "descent" && drops.length > 0) {
    return (
      <DescentProvider>
        <Frame
          step={step}
          dropId={drop?.id ?? ""}
          right={
            <Opening>
              <DescentRight />
            </Opening>
          }
        >
          <Opening>
            <Descent dropId={drop?.id ?? ""} />
          </Opening>
        </Frame>
      </DescentProvider>
    );
  }
  if (step === "rehearse" && drop) {
    return (
      <RehearsalProvider dropId={drop.id}>
        <Frame
          step={step}
          dropId={drop.id}
          right={
            <Opening>
              <RehearseRight />
            </Opening>
          }
        >
          <Opening>
            <Rehearse drop={drop} />
          </Opening>
        </Frame>
      </RehearsalProvider>
    );
  }
  if (step === "card" && drop) {
    return (
      <CheckProvider dropId={drop.id}>
        <Frame
          step={step}
          dropId={drop.id}
          right={
            <Opening>
              <CardRight />
            </Opening>
          }
        >
          <Opening>
            <Card />
          </Opening>
        </Frame>
      </CheckProvider>
    );
  }
  if (step === "log") {
    return (
      <Frame
        step={step}
        dropId={drop?.id ?? ""}
        right={
          <Opening>
            <LogRight />
          </Opening>
        }
      >
        <Opening>
          <Log />
        </Opening>
      </Frame>
    );
  }
  if (!drop || !a || step === "descent" || step === "rehearse" || step === "card") {
    return (
      <Frame step={step} dropId="" right={<Findings findings={view.assessment.findings} />}>
        <div className="grid h-full place-items-center bg-[var(--void)]">
          <div className="max-w-sm text-center">
            <p className="text-lg font-semibold">{drop ? "Adding the drop…" : "This plan has no drops yet"}</p>
            {!drop && (
              <p className="quiet mt-1">
                Add the first drop at the lower left, or press A. Kit and people are entered under Shed.
              </p>
            )}
          </div>
        </div>
      </Frame>
    );
  }
  return (
    <WhichContext.Provider value={{ which: inView, setWhich }}>
      <Frame step={step} dropId={drop.id} right={<Right drop={drop} a={a} />}>
        <Opening>
          <Left key={drop.id} step={step} drop={drop} index={index} a={a} />
        </Opening>
      </Frame>
    </WhichContext.Provider>
  );
}

/** A drop and its answer as they are dragged, or as they are. */
function useShown(drop: Drop, a: DropAssessment) {
  const dragged = useDragged();
  const own = dragged?.drop.id === drop.id ? dragged : null;
  return { drop: own?.drop ?? drop, a: own?.answer ?? a, draft: own !== null };
}

function Left({ step, drop, index, a }: { step: keyof typeof OF_DROP; drop: Drop; index: number; a: DropAssessment }) {
  const shown = useShown(drop, a);
  const OfDrop = OF_DROP[step];
  return <OfDrop drop={shown.drop} index={index} a={shown.a} />;
}

function Right({ drop, a }: { drop: Drop; a: DropAssessment }) {
  const shown = useShown(drop, a);
  return <DropRight a={shown.a} drop={drop} draft={shown.draft} />;
}
