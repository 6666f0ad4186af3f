import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode, useEffect, useState } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Link, Navigate, Route, Routes, useParams } from "react-router";
import { PlanProvider, useSession } from "./state/plan";
import { PrefsProvider } from "./state/prefs";
import { WhichContext } from "./state/which";
import { PlanList } from "./steps/plans/PlanList";
import { Reference } from "./steps/reference/Reference";
import { Rig } from "./steps/rig/Rig";
import { DropRight } from "./steps/Right";
import { Shed } from "./steps/shed/Shed";
import { Survey } from "./steps/survey/Survey";
import { FirstCaution } from "./ui/Dialogs";
import { Findings } from "./ui/Findings";
import { Frame, type StepKey, STEPS } from "./ui/Frame";
import "./theme.css";

const client = new QueryClient({ defaultOptions: { queries: { refetchOnWindowFocus: false } } });

function Message({ title, text }: { title: string; text: string }) {
  return (
    <div className="grid h-full place-items-center bg-base-200 p-8">
      <div className="max-w-md text-center">
        <h1 className="text-xl font-bold">{title}</h1>
        <p className="my-3">{text}</p>
        <Link className="act" to="/">All plans</Link>
      </div>
    </div>
  );
}

function PlanPage() {
  const { id = "", step = "rig", drop = "" } = useParams();
  const found = STEPS.find((s) => s.key === step);
  if (!found) return <Navigate to={`/plans/${id}/rig`} replace />;
  return (
    <PlanProvider key={id} id={id} loading={<Message title="Opening the plan…" text="" />} failed={(p) => <Message title="This plan cannot be opened" text={p.detail} />}>
      <Step step={found.key} dropId={drop} />
    </PlanProvider>
  );
}

function Step({ step, dropId }: { step: StepKey; dropId: string }) {
  const { plan, view, draft } = useSession();
  const drops = plan.drops ?? [];
  const index = Math.max(0, drops.findIndex((d) => d.id === dropId));
  const drop = drops[index];
  const [which, setWhich] = useState(0);
  useEffect(() => setWhich(0), [dropId]);
  const inView = step === "rig" && (drop?.station.states.length ?? 1) > which ? which : 0;
  const drafted = draft && drop && draft.drop.id === drop.id ? draft : null;
  const a = drafted?.answer ?? view.assessment.drops.find((d) => d.id === drop?.id);
  if (step === "shed") {
    const named = new Set<string>();
    const ropes = view.assessment.drops.flatMap((d) => d.findings).filter((f) => ["rope.nominal", "rope.length"].includes(f.code) && !named.has(f.subject.part) && named.add(f.subject.part));
    return (
      <Frame step={step} dropId={drop?.id ?? ""} right={
        <>
          <h1 className="mb-1 text-lg font-bold">Shed and party</h1>
          <p className="quiet mb-3">What this plan may use. Removing something that a station uses leaves that station not checked.</p>
          <Findings findings={[...view.assessment.findings, ...ropes]} />
          {view.assessment.findings.length + ropes.length === 0 && <p>Nothing is missing here that the drops ask for.</p>}
        </>
      }><Shed /></Frame>
    );
  }
  if (!drop || !a) {
    return (
      <Frame step={step} dropId="" right={<Findings findings={view.assessment.findings} />}>
        <div className="grid h-full place-items-center bg-[var(--void)]">
          <div className="max-w-sm text-center">
            <p className="text-lg font-semibold">{drop ? "Adding the drop…" : "This plan has no drops yet"}</p>
            {!drop && <p className="quiet mt-1">Add the first drop at the lower left, or press A. Kit and people are entered under Shed.</p>}
          </div>
        </div>
      </Frame>
    );
  }
  const shown = drafted?.drop ?? drop;
  return (
    <WhichContext.Provider value={{ which: inView, setWhich }}>
      <Frame step={step} dropId={drop.id} right={<DropRight a={a} drop={drop} draft={drafted !== null} />}>
        {step === "survey" ? <Survey key={drop.id} drop={shown} index={index} a={a} /> : <Rig key={drop.id} drop={shown} index={index} a={a} />}
      </Frame>
    </WhichContext.Provider>
  );
}

createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <QueryClientProvider client={client}>
      <PrefsProvider>
        <BrowserRouter>
          <Routes>
            <Route path="/" element={<PlanList />} />
            <Route path="/reference" element={<Reference />} />
            <Route path="/plans/:id/:step?/:drop?" element={<PlanPage />} />
            <Route path="*" element={<Message title="There is nothing here" text="The address names no page of Reamer." />} />
          </Routes>
          <FirstCaution />
        </BrowserRouter>
      </PrefsProvider>
    </QueryClientProvider>
  </StrictMode>,
);
