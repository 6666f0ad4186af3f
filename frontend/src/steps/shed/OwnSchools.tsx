// The guide's own schools: where each is followed, what it brings and ends, and whether new plans have it.
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api } from "../../api/client";
import type { HazardChanged } from "../../api/types.gen";
import type { OwnSchool } from "../../state/model";
import { useSession } from "../../state/plan";
import { ownSchools, setSchools, useForNewPlans } from "../../state/schools";
import { Tally } from "../../ui/Findings";
import { Typed } from "../../ui/fields";
import { Said } from "../../ui/Num";

export function OwnSchools() {
  const { plan } = useSession();
  const own = ownSchools(plan);
  const { common, refused, keep, drop } = useForNewPlans();
  return (
    <section aria-label="schools of your own">
      <h2 className="mt-4 text-base font-bold">Schools of your own</h2>
      <p className="quiet mb-2">
        {own.length > 0
          ? `What you teach otherwise than the rule has it: changes of the acts, kept from a station and made at every
            station where whoever does the same does it.`
          : `None yet. Change the acts of a station under Rehearse, and keep the change as a school of your own.`}
      </p>
      {refused && (
        <p role="alert" className="sev-Shortfall">
          {refused}
        </p>
      )}
      {own.map((s) => (
        <One
          key={s.id}
          school={s}
          common={(common?.own_schools ?? []).find((c) => c.id === s.id) ?? null}
          onKeep={() => void keep(s)}
          onDrop={() => void drop(s.id)}
        />
      ))}
    </section>
  );
}

const same = (a: OwnSchool, b: OwnSchool) =>
  JSON.stringify([a.name, a.whom, a.edits]) === JSON.stringify([b.name, b.whom, b.edits]);

function One({
  school,
  common,
  onKeep,
  onDrop,
}: {
  school: OwnSchool;
  common: OwnSchool | null;
  onKeep: () => void;
  onDrop: () => void;
}) {
  const { view, plan, edit } = useSession();
  const query = useQuery({
    queryKey: ["own-school", view.id, view.rests, school.id],
    queryFn: ({ signal }) => api.ownSchool(view.id, view.revision, school.id, signal),
    staleTime: Infinity,
    retry: false,
    placeholderData: keepPreviousData,
  });
  const over = query.data;
  const put = (change: Partial<OwnSchool>) =>
    edit(setSchools((own) => own.map((o) => (o.id === school.id ? { ...o, ...change } : o))));
  const names = (ids: readonly string[]) => ids.map((i) => plan.party.find((p) => p.id === i)?.name ?? i).join(", ");
  const first = over?.stations.find(([, at]) => at.place);
  return (
    <section className="rule-t py-3" aria-label={school.name}>
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
        <Typed
          label={`name of ${school.name}`}
          className="w-64 font-bold"
          value={school.name}
          onCommit={(v) => v.trim() && put({ name: v.trim() })}
        />
        <label className="flex items-center gap-1.5 text-[13px]">
          <input
            type="checkbox"
            aria-label={`${school.name}: this plan follows it`}
            checked={school.followed}
            onChange={(e) => put({ followed: e.target.checked })}
          />
          this plan follows it
        </label>
        <label className="flex items-center gap-1.5 text-[13px]">
          <input
            type="checkbox"
            aria-label={`${school.name}: for all new plans`}
            checked={common !== null}
            onChange={(e) => (e.target.checked ? onKeep() : onDrop())}
          />
          for all new plans
        </label>
        {common && !same(common, school) && (
          <button type="button" className="act plain px-1" onClick={onKeep}>
            as it is here
          </button>
        )}
        <span className="grow" />
        <button
          type="button"
          className="act plain px-1"
          aria-label={`take ${school.name} out of this plan`}
          onClick={() => edit(setSchools((own) => own.filter((o) => o.id !== school.id)))}
        >
          Take out of this plan
        </button>
      </div>
      {query.error && (
        <p role="alert" className="sev-Not-checked">
          {query.error.message}
        </p>
      )}
      {first && (
        <ul className="mt-1 list-disc pl-5 text-[13px]">
          {first[1].changes.map((c, i) => (
            <li key={i}>
              <Said s={c} />
            </li>
          ))}
        </ul>
      )}
      {over && (
        <>
          <table className="mt-1 w-full text-[13px]">
            <tbody>
              {over.stations.map(([id, at]) => {
                const n = plan.drops.findIndex((d) => d.id === id);
                return (
                  <tr key={id} className="rule-t">
                    <td className="py-0.5 pr-2">
                      {n + 1} · {plan.drops[n]?.name}
                    </td>
                    <td className={at.place && at.here ? "" : "quiet"}>
                      {!at.here
                        ? "not followed here"
                        : !at.place
                          ? "its acts are not in this order"
                          : names(at.people) || "followed"}
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
          <p className="quiet mt-1 text-xs">
            The acts of the whole descent with it: <Tally tally={over.followed} />; without it:{" "}
            <Tally tally={over.by_rule} />.
          </p>
          <Hazards label="It brings" of={over.brings} />
          <Hazards label="It ends" of={over.ends} />
        </>
      )}
    </section>
  );
}

function Hazards({ label, of }: { label: string; of: readonly HazardChanged[] }) {
  if (of.length === 0) return null;
  return (
    <ul className="mt-0.5 text-[13px]">
      {of.map((h, i) => (
        <li key={i}>
          <span className="quiet">
            {label}, station {h.number}:{" "}
          </span>
          <span className={`sev-${h.severity.replace(" ", "-")} font-semibold`}>
            <Said s={h.title} />
          </span>
        </li>
      ))}
    </ul>
  );
}
