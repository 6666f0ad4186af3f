// A rangefinder fills the section shot by shot: what it sends while this is open goes into the drop in view.
import { useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { api, Refusal } from "../../api/client";
import { figure } from "../../say";
import { useInstrument } from "../../state/devices";
import { setAt, unknown } from "../../state/edits";
import type { HeardView, PlanView } from "../../state/model";
import { useSession } from "../../state/plan";
import { usePrefs } from "../../state/prefs";
import { Connection } from "../../ui/Connection";
import type { Path } from "../../ui/fields";

export function Shooting({ dropId, at }: { dropId: string; at: Path }) {
  const [open, setOpen] = useState(false);
  return (
    <details className="mb-2" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary className="cursor-pointer text-[13px] font-bold">Shoot it with a rangefinder</summary>
      {open && <Open dropId={dropId} at={at} />}
    </details>
  );
}

const BLANK = {
  id: "s1",
  slope_m: unknown("not measured"),
  incl_deg: unknown("not measured"),
  edge: "unknown",
  padded: false,
  face: "as the drop",
};

function Open({ dropId, at }: { dropId: string; at: Path }) {
  const { view, edit } = useSession();
  const { units } = usePrefs();
  const client = useQueryClient();
  const [said, setSaid] = useState<readonly { text: string; bad: boolean }[]>([]);
  const first = useRef(0);
  const last = useRef(Promise.resolve());
  const { id } = view;
  const tell = (text: string, bad = false) => setSaid((s) => [{ text, bad }, ...s].slice(0, 4));
  const take = async (number: number, again = true): Promise<void> => {
    const now = client.getQueryData<PlanView>(["plan", id])!;
    try {
      client.setQueryData(["plan", id], await api.takeShot(id, now.revision, dropId, number, first.current));
    } catch (e) {
      if (!(e instanceof Refusal)) throw e;
      if (e.problem.status !== 409 || !again) return tell(`Not taken: ${e.problem.detail}`, true);
      // Somebody edited meanwhile: it goes into what they left.
      await client.refetchQueries({ queryKey: ["plan", id] });
      await take(number, false);
    }
  };
  const hear = (h: HeardView) => {
    if (h.said?.line === "lost") return tell(`Lost: ${h.said.why || "nothing came back"}. Shoot again.`, true);
    if (h.wrong) return tell(h.wrong, true);
    if (h.said?.line !== "shot") return;
    first.current ||= h.number;
    const [m, unit] = figure({ value: h.said.slope_m, quantity: "fine length", toward: "near", working: "" }, units);
    tell(`${m} ${unit} at ${h.said.incl_deg.toFixed(1).replace("-", "−")}°`);
    last.current = last.current.then(() => take(h.number));
  };
  const instrument = useInstrument("rangefinder", 200, hear);
  const on = instrument.view?.state === "connected" || instrument.view?.state === "silent";
  return (
    <div className="mt-1 grid gap-2">
      <Connection kind="rangefinder" of={instrument} />
      {on && (
        <div className="flex items-center gap-3">
          <button type="button" className="act" onClick={() => instrument.ask("shoot")}>
            Shoot
          </button>
          <button
            type="button"
            className="act plain"
            onClick={() => {
              first.current = 0;
              edit(setAt(at, [BLANK]));
            }}
          >
            Begin the section anew
          </button>
          <ul aria-label="shots heard" aria-live="polite" className="flex flex-wrap gap-x-4 text-[13px]">
            {said.map((s, i) => (
              <li key={`${said.length}-${i}`} className={s.bad ? "sev-Caution font-semibold" : i ? "quiet" : ""}>
                {s.text}
              </li>
            ))}
          </ul>
        </div>
      )}
      <p className="quiet text-xs">
        From the tie to the landing, the least steep first if there is a choice: its azimuth tells which way is out. Say
        what rock lies at each end afterwards.
      </p>
    </div>
  );
}
