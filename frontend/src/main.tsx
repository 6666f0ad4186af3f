import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode, Suspense } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Route, Routes } from "react-router";
import { api } from "./api/client";
import { PrefsProvider } from "./state/prefs";
import { FirstCaution, Moved } from "./ui/Dialogs";
import { Finder } from "./ui/Finder";
import { beginAnew, later } from "./ui/later";
import { Message } from "./ui/Message";
import "./theme.css";

const PlanList = later(() => import("./steps/plans/PlanList").then((m) => m.PlanList));
const PlanPage = later(() => import("./steps/PlanPage").then((m) => m.PlanPage));
const Reference = later(() => import("./steps/reference/Reference").then((m) => m.Reference));
const Guide = later(() => import("./steps/reference/Guide").then((m) => m.Guide));
const Checks = later(() => import("./steps/reference/Guide").then((m) => m.Checks));
const client = new QueryClient({ defaultOptions: { queries: { refetchOnWindowFocus: false } } });

// A page that stayed open while Reamer was replaced asks for parts that are gone: it begins anew, once. Where
// the server only does not answer, what is on the screen stays.
window.addEventListener("vite:preloadError", () => {
  const last = Number(sessionStorage.getItem("began anew") ?? 0);
  if (Date.now() - last < 10_000) return;
  sessionStorage.setItem("began anew", String(Date.now()));
  void beginAnew();
});

const planAt = (step: string) =>
  Promise.all([PlanPage.fetch(), import("./steps/PlanPage").then((m) => m.loadStep(step))]);

/** What the page begins with: asked for before there is anything to show it in, all of it at once. */
async function begin() {
  const [, id, step = "rig"] = /^\/plans\/([^/]+)(?:\/([a-z]+))?/.exec(window.location.pathname) ?? [];
  if (!id) return window.location.pathname === "/" ? PlanList.fetch() : undefined;
  void client.prefetchQuery({ queryKey: ["plan", id], queryFn: () => api.open(id), retry: false });
  await planAt(step);
}

const show = () =>
  createRoot(document.getElementById("root")!).render(
    <StrictMode>
      <QueryClientProvider client={client}>
        <PrefsProvider>
          <BrowserRouter>
            <Suspense fallback={null}>
              <Routes>
                <Route path="/" element={<PlanList />} />
                <Route path="/reference" element={<Reference />} />
                <Route path="/guide" element={<Guide />} />
                <Route path="/checks" element={<Checks />} />
                <Route path="/plans/:id/:step?/:drop?" element={<PlanPage />} />
                <Route
                  path="*"
                  element={<Message title="There is nothing here" text="The address names no page of Reamer." />}
                />
              </Routes>
            </Suspense>
            <Finder />
            <FirstCaution />
            <Moved />
          </BrowserRouter>
        </PrefsProvider>
      </QueryClientProvider>
    </StrictMode>,
  );
// Where a part of it could not be fetched, whoever shows it says so. What comes next is fetched while this is seen.
begin()
  .then(show, show)
  .then(() => planAt("rig"))
  .catch(() => undefined);
