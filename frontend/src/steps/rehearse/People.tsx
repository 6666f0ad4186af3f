// The people at this station: who goes when, how each is backed up and what else there is, how each is attached.
import { useQuery } from "@tanstack/react-query";
import { type PointerEvent, useRef, useState } from "react";
import { api } from "../../api/client";
import { spoken } from "../../say";
import type { Drop, Option } from "../../state/model";
import { useSession } from "../../state/plan";
import { usePrefs } from "../../state/prefs";
import { useGoing } from "../../state/rehearsal";
import { sameBefore } from "../../state/same";
import { Said } from "../../ui/Num";
import { AttachmentDrawing } from "./AttachmentDrawing";
import { RoleMark } from "./marks";
import { lettersOf } from "./people";
import { changeThrough, throughOf } from "./through";

export function People({ drop }: { drop: Drop }) {
  const { run, who } = useGoing();
  if (!run) return <p className="quiet p-4">Going through the station…</p>;
  return (
    <div className="grid grid-cols-[minmax(220px,1fr)_2fr] gap-x-6 gap-y-4 px-4 py-2">
      <Order drop={drop} order={run.order} backups={run.backups} />
      <AttachmentDrawing key={`${drop.id} ${who}`} drop={drop} who={who} />
      <Backups drop={drop} who={who} />
    </div>
  );
}

function Order({
  drop,
  order,
  backups,
}: {
  drop: Drop;
  order: readonly string[];
  backups: readonly (readonly string[])[];
}) {
  const { plan, edit } = useSession();
  const { who, setWho } = useGoing();
  const held = useRef<string | null>(null);
  const [over, setOver] = useState<number | null>(null);
  const chosen = throughOf(drop).order !== null;
  const letters = lettersOf(plan.party ?? []);
  const put = (id: string, to: number) => {
    const rest = order.filter((x) => x !== id);
    edit(changeThrough(drop.id, (t) => ({ ...t, order: [...rest.slice(0, to), id, ...rest.slice(to)] })));
  };
  const at = (e: PointerEvent) => {
    const row = document.elementFromPoint(e.clientX, e.clientY)?.closest("[data-order]");
    return row ? Number(row.getAttribute("data-order")) : null;
  };
  return (
    <section aria-label="who goes when">
      <h3 className="font-semibold">Who goes when</h3>
      <p className="quiet text-[12px]">{chosen ? "as you have it" : "as the rule has it"}; drag, or Shift with ↑ ↓</p>
      <ol className="mt-1" data-own-keys>
        {order.map((id, i) => {
          const p = plan.party.find((x) => x.id === id);
          const backup = backups.find(([w]) => w === id);
          const helper = plan.party.find((x) => x.id === backup?.[2])?.name;
          return (
            <li key={id} data-order={i}>
              <button
                type="button"
                aria-pressed={id === who}
                className={`order-row ${id === who ? "on" : ""} ${over === i ? "outline-2 outline-accent" : ""}`}
                onClick={() => setWho(id)}
                onKeyDown={(e) => {
                  const by = e.key === "ArrowUp" ? -1 : e.key === "ArrowDown" ? 1 : 0;
                  if (by === 0) return;
                  e.preventDefault();
                  if (e.shiftKey) put(id, Math.max(0, Math.min(order.length - 1, i + by)));
                  else {
                    const next = order[i + by];
                    if (next) setWho(next);
                    const list = e.currentTarget.closest("ol");
                    list?.querySelectorAll<HTMLButtonElement>("button")[i + by]?.focus();
                  }
                }}
                onPointerDown={(e) => {
                  e.currentTarget.setPointerCapture(e.pointerId);
                  held.current = id;
                }}
                onPointerMove={(e) => {
                  if (held.current) setOver(at(e));
                }}
                onPointerUp={(e) => {
                  const to = at(e);
                  const moving = held.current;
                  held.current = null;
                  setOver(null);
                  if (moving && to !== null && to !== order.indexOf(moving)) put(moving, to);
                }}
                onPointerCancel={() => {
                  held.current = null;
                  setOver(null);
                }}
              >
                <span className="num w-4 text-right">{i + 1}</span>
                <svg width={26} height={26} viewBox="-16 -16 32 32" aria-hidden="true">
                  <RoleMark role={p?.role ?? "novice"} letters={letters.get(id) ?? "?"} />
                </svg>
                <span className="min-w-0 leading-[14px]">
                  <span className="block truncate font-semibold">{p?.name ?? id}</span>
                  <span className="quiet block truncate text-[11.5px]">
                    {backup?.[1]}
                    {helper ? ` by ${helper}` : ""}
                  </span>
                </span>
              </button>
            </li>
          );
        })}
      </ol>
      {chosen && (
        <button
          type="button"
          className="act plain mt-1 px-1"
          onClick={() => edit(changeThrough(drop.id, (t) => ({ ...t, order: null })))}
        >
          As the rule has it
        </button>
      )}
    </section>
  );
}

function Backups({ drop, who }: { drop: Drop; who: string }) {
  const { view, plan } = useSession();
  const name = plan.party.find((p) => p.id === who)?.name ?? "";
  const key = ["backups", view.id, view.rests, drop.id, who];
  const query = useQuery({
    queryKey: key,
    queryFn: () => api.backups(view.id, view.revision, drop.id, who),
    staleTime: Infinity,
    retry: false,
    enabled: who !== "",
    placeholderData: sameBefore(key),
  });
  return (
    <section aria-label="backups" aria-busy={query.isPlaceholderData} className="rule-t col-span-2 min-w-0 pt-2">
      <h3 className="font-semibold">How {name} is backed up here</h3>
      <table className="mt-1 w-full text-[12.5px]" aria-label={`backups of ${name}`}>
        <thead>
          <tr className="quiet text-left">
            <th className="font-normal">backup</th>
            <th className="font-normal">needs</th>
            <th className="font-normal">rules out, loads</th>
            <th className="text-right font-normal">time</th>
          </tr>
        </thead>
        <tbody>
          {!query.data && (
            <tr>
              <td colSpan={4} className="quiet py-1">
                {query.error ? query.error.message : "being worked out"}
              </td>
            </tr>
          )}
          {query.data?.map((o) => (
            <Choice key={o.by} o={o} drop={drop} who={who} />
          ))}
        </tbody>
      </table>
    </section>
  );
}

function Choice({ o, drop, who }: { o: Option; drop: Drop; who: string }) {
  const { edit } = useSession();
  const { units } = usePrefs();
  const { run } = useGoing();
  const now = run?.backups.find(([w]) => w === who)?.[1] === o.by;
  const choose = () =>
    edit(
      changeThrough(drop.id, (t) => {
        const rest = (t.backups ?? []).filter((b) => b.who !== who);
        return { ...t, backups: o.proposed ? rest : [...rest, { who, by: o.by, helper: null }] };
      }),
    );
  return (
    <tr className={`rule-t align-top ${now ? "bg-base-200" : ""}`}>
      <td className="py-0.5 pr-2">
        <label className="flex min-h-6 items-center gap-1.5 font-semibold whitespace-nowrap">
          <input
            type="radio"
            name={`backup-${drop.id}-${who}`}
            checked={now}
            disabled={o.why_not !== null && !now}
            onChange={choose}
          />
          {o.by}
        </label>
        {o.proposed && <span className="quiet text-[11.5px]">proposed by the rule</span>}
      </td>
      <td className="pr-2">
        {o.why_not ? (
          <span className="sev-Not-checked">
            <Said s={o.why_not} />
          </span>
        ) : (
          o.needs.map((s, i) => (
            <div key={i}>
              <Said s={s} />
            </div>
          ))
        )}
      </td>
      <td className="pr-2">
        {[...o.excludes, ...o.loads].map((s, i) => (
          <div key={i}>
            <Said s={s} />
          </div>
        ))}
      </td>
      <td className="text-right whitespace-nowrap">
        {o.low_min && o.high_min ? `${spoken(o.low_min, units).replace(/ .*/, "")}–${spoken(o.high_min, units)}` : ""}
      </td>
    </tr>
  );
}
