// A number with its unit; where it has a working, a press opens it.
import { createContext, useContext } from "react";
import { figure, pieces } from "../say";
import type { Sentence, Num as Value } from "../state/model";
import { usePrefs } from "../state/prefs";

/** Opens a working by its key, for the drop or "shed" it belongs to. */
export const WorkingContext = createContext<((key: string) => void) | null>(null);

export function Num({ n, className = "" }: { n: Value; className?: string }) {
  const { units } = usePrefs();
  const open = useContext(WorkingContext);
  const [text, unit] = figure(n, units);
  const body = (
    <>
      {text}
      {unit === "" ? "" : unit === "°" ? "°" : <span className="font-normal"> {unit}</span>}
    </>
  );
  if (!open || n.working === "") return <span className={`num ${className}`}>{body}</span>;
  return (
    <button type="button" className={`num ${className}`} title="Show the working" onClick={() => open(n.working)}>
      {body}
    </button>
  );
}

export function Said({ s }: { s: Sentence }) {
  return <>{pieces(s).map((p, i) => ("text" in p ? <span key={i}>{p.text}</span> : <Num key={i} n={p.number} />))}</>;
}
