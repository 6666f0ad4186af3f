// From a field's place in the plan to the screen that has it, and the focus into it.
import { createContext, useContext, useEffect } from "react";
import { useLocation } from "react-router";
import { resolved } from "../state/edits";
import type { Plan } from "../state/model";

/** What a link to a field carries along; ``asked`` tells two presses of the same link apart. */
export interface Wanted {
  field: string;
  asked: number;
}
export type StepOfField = "survey" | "shed" | "rig" | "descent" | "rehearse" | "card";

/** Goes to a field, by its place in the plan; ``*`` stands for any way there. */
export const GoContext = createContext<(field: string) => void>(() => undefined);
export const useGo = () => useContext(GoContext);

const ON_RIG = ["features", "inspections", "deviations", "traverse", "hanging", "together", "states"];
const OF_DESCENT = ["onward", "escape"];
const OF_LEDGER = ["threaded", "run_through"];

/** The step that shows a field, and its drop. */
export function screenOf(plan: Plan, field: string): { step: StepOfField; drop: string } {
  const [top = "", n = "", part = "", inner = "", , last = ""] = resolved(plan, field.split("/")).split("/");
  if (["shed", "party", "policies", "own_figures", "title", "place", "on", "notes"].includes(top))
    return { step: "shed", drop: "" };
  if (top !== "drops") return { step: "descent", drop: "" };
  const drop = plan.drops?.[Number(n)]?.id ?? "";
  if (OF_DESCENT.includes(part) || OF_LEDGER.includes(last)) return { step: "descent", drop };
  if (part === "station" && inner === "through") return { step: "rehearse", drop };
  return { step: part === "station" && ON_RIG.includes(inner) ? "rig" : "survey", drop };
}

/** The field that was asked for, as the server names it; "" if none was. */
export function useWanted(): Wanted | null {
  return (useLocation().state as Wanted | null) ?? null;
}

const CONTROLS = "input:not([type=hidden]), select, textarea, button, [tabindex]";

/** The control of a field: of several below its place the first of which nothing is known. */
function controlOf(field: string): HTMLElement | null {
  const pattern = new RegExp(`^${field.replace(/[.+?^$()[\]{}|\\]/g, "\\$&").replace(/\*/g, ".*")}(/.*)?$`);
  const found = [...document.querySelectorAll<HTMLElement>("[data-path]")].filter((e) => pattern.test(e.dataset.path!));
  const best = found.find((e) => e.dataset.open) ?? found[0];
  return best ? (best.matches(CONTROLS) ? best : best.querySelector<HTMLElement>(CONTROLS)) : null;
}

const PATIENCE = 8000;
// Over how many frames the focus stays where it was put until it is left alone.
const STAYS = 20;

/** Once an act is made and its button gone, the focus goes to what is said of it, never back to the page's top. */
export function focusAfter(button: HTMLElement) {
  const until = performance.now() + PATIENCE;
  const look = () => {
    if (button.isConnected && performance.now() < until) return void requestAnimationFrame(look);
    if (document.activeElement && document.activeElement !== document.body) return;
    const said = document.querySelector<HTMLElement>("[data-changed]") ?? document.querySelector<HTMLElement>("main");
    said?.focus({ preventScroll: true });
  };
  requestAnimationFrame(look);
}

/** Puts the focus into the field that was asked for, once it is on screen. */
export function useFocusWanted() {
  const wanted = useWanted();
  useEffect(() => {
    if (!wanted) return;
    const until = performance.now() + PATIENCE;
    let frame = 0;
    let held = 0;
    const look = () => {
      const control = controlOf(wanted.field);
      const now = document.activeElement;
      if (control && now === control) held += 1;
      else if (control && (held === 0 || now === document.body)) {
        // What is drawn anew under the focus loses it: it is looked for again until it stays.
        control.focus();
        control.scrollIntoView({ block: "center" });
        if (control instanceof HTMLInputElement && control.type !== "checkbox") control.select();
        held = 1;
      } else if (control) return;
      if (held < STAYS && performance.now() < until) frame = requestAnimationFrame(look);
    };
    frame = requestAnimationFrame(look);
    return () => cancelAnimationFrame(frame);
  }, [wanted]);
}
