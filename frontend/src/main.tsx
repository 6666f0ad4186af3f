import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { lazy, StrictMode, Suspense } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Route, Routes } from "react-router";
import { PrefsProvider } from "./state/prefs";
import { FirstCaution, Moved } from "./ui/Dialogs";
import { Finder } from "./ui/Finder";
import { Message } from "./ui/Message";
import "./theme.css";

const PlanList = lazy(() => import("./steps/plans/PlanList").then((m) => ({ default: m.PlanList })));
const PlanPage = lazy(() => import("./steps/PlanPage").then((m) => ({ default: m.PlanPage })));
const Reference = lazy(() => import("./steps/reference/Reference").then((m) => ({ default: m.Reference })));
const Guide = lazy(() => import("./steps/reference/Guide").then((m) => ({ default: m.Guide })));
const client = new QueryClient({ defaultOptions: { queries: { refetchOnWindowFocus: false } } });

// A page that stayed open while Reamer was replaced asks for parts that are no longer there: it begins anew, once.
window.addEventListener("vite:preloadError", (e) => {
  const last = Number(sessionStorage.getItem("began anew") ?? 0);
  if (Date.now() - last < 10_000) return;
  e.preventDefault();
  sessionStorage.setItem("began anew", String(Date.now()));
  window.location.reload();
});

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
