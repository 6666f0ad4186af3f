// The common shed: one document for all plans. A plan keeps its own copy; what differs is shown and taken over by
// choice.
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, Refusal } from "../../api/client";
import type { Difference, ShedView } from "../../api/types.gen";
import { setAt } from "../../state/edits";
import type { Plan, Shed } from "../../state/model";
import { useSession } from "../../state/plan";
import { shedWithSchools } from "../../state/schools";
import { Choose } from "../../ui/fields";
import { Unreadable } from "../../ui/Unreadable";

type Things = readonly { id: string }[];
const WORDS: Record<Difference["kind"], string> = {
  "only in the plan": "only in this plan",
  "only in the shed": "only in the common shed",
  differs: "",
};

function put(shed: Shed, d: Difference, from: Shed): Shed {
  const list = d.list as keyof Shed;
  const theirs = (from[list] as Things).find((x) => x.id === d.id);
  const ours = shed[list] as Things;
  const next = !theirs
    ? ours.filter((x) => x.id !== d.id)
    : ours.some((x) => x.id === d.id)
      ? ours.map((x) => (x.id === d.id ? theirs : x))
      : [...ours, theirs];
  return { ...shed, [list]: next };
}

export function CommonShed() {
  const { view, plan, edit } = useSession();
  const client = useQueryClient();
  const key = ["shed", view.id, view.revision];
  const query = useQuery({ queryKey: key, queryFn: () => api.shed(view.id), placeholderData: (before) => before });
  const [refused, setRefused] = useState<string | null>(null);
  const shed = query.data;
  const take = (ds: readonly Difference[]) =>
    edit((p: Plan) => ({ ...p, shed: ds.reduce((s, d) => put(s, d, shed!.shed), p.shed) }));
  const keep = (ds: readonly Difference[]) =>
    change(() =>
      api.saveShed(
        view.id,
        shed!.revision,
        ds.reduce((s, d) => put(s, d, plan.shed), shed!.shed),
      ),
    );
  const change = async (make: () => Promise<ShedView>) => {
    setRefused(null);
    try {
      client.setQueryData(key, await make());
    } catch (e) {
      setRefused(e instanceof Refusal ? e.message : String(e));
      void query.refetch();
    }
  };
  return (
    <div className="max-w-3xl">
      <UsualKits common={shed && shed.revision > 0 ? shed.shed : null} />
      <h2 className="text-base font-bold">The common shed</h2>
      <p className="quiet mb-3 max-w-2xl">
        Kit, own figures, own schools and pull tests that all plans can take from. This plan works with its own copy, so
        it stays as it was checked; what the shed has otherwise is listed here.
      </p>
      <Unreadable kinds={["common shed"]} />
      {query.error && (
        <p role="alert" className="sev-Shortfall">
          {query.error.message}
        </p>
      )}
      {refused && (
        <p role="alert" className="sev-Shortfall mb-2">
          {refused} Look again and keep it once more.
        </p>
      )}
      {shed && (
        <>
          <p className="mb-2 font-semibold" role="status">
            {shed.revision === 0
              ? "Nothing has been kept in it yet."
              : shed.differences.length === 0
                ? "This plan's kit and the common shed are alike."
                : `${shed.differences.length} thing${shed.differences.length === 1 ? " is" : "s are"} not alike.`}
            {shed.revision > 0 && (
              <span className="quiet ml-2 text-xs font-normal">
                revision {shed.revision}: {shed.what}
              </span>
            )}
            {shed.revision > 0 && (
              <button
                type="button"
                className="ml-2 min-h-6 cursor-pointer text-xs font-semibold underline"
                onClick={() => void change(() => api.undoShed(view.id, shed.revision))}
              >
                take it back
              </button>
            )}
          </p>
          {shed.differences.length > 0 && (
            <div className="mb-2 flex gap-3">
              {shed.revision > 0 && (
                <button
                  type="button"
                  className="act"
                  onClick={() => take(shed.differences.filter((d) => d.kind !== "only in the plan"))}
                >
                  Take all of the shed's into this plan
                </button>
              )}
              <button
                type="button"
                className="act"
                onClick={() => void keep(shed.differences.filter((d) => d.kind !== "only in the shed"))}
              >
                Keep all of this plan's in the shed
              </button>
            </div>
          )}
          <table className="w-full text-[13px]" aria-label="differences from the common shed">
            <tbody>
              {shed.differences.map((d) => (
                <tr key={`${d.list}/${d.id}`} className="rule-t align-baseline">
                  <td className="py-1 pr-3 font-semibold whitespace-nowrap">{d.name}</td>
                  <td className="quiet py-1 pr-3">{d.kind === "differs" ? `in the shed: ${d.what}` : WORDS[d.kind]}</td>
                  <td className="py-1 text-right whitespace-nowrap">
                    {d.kind !== "only in the plan" && (
                      <button
                        type="button"
                        className="act plain"
                        aria-label={`take ${d.name} into the plan`}
                        onClick={() => take([d])}
                      >
                        take
                      </button>
                    )}
                    {d.kind !== "only in the shed" && (
                      <button
                        type="button"
                        className="act plain"
                        aria-label={`keep ${d.name} in the shed`}
                        onClick={() => void keep([d])}
                      >
                        keep
                      </button>
                    )}
                    {d.kind === "only in the shed" && (
                      <button
                        type="button"
                        className="act plain"
                        aria-label={`drop ${d.name} from the shed`}
                        onClick={() => void keep([d])}
                      >
                        drop
                      </button>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
      <OtherPlan />
    </div>
  );
}

const isEmpty = (plan: Plan) =>
  (plan.party ?? []).length === 0 &&
  !Object.entries(plan.shed).some(([list, x]) => list !== "own_schools" && Array.isArray(x) && x.length > 0);

/** What a plan without kit may start with: what its owner has, or a usual kit whose figures are only typical. */
function UsualKits({ common }: { common: Shed | null }) {
  const { plan, edit } = useSession();
  const kits = useQuery({ queryKey: ["kits"], queryFn: api.kits, staleTime: Infinity });
  if (!isEmpty(plan)) return null;
  return (
    <section className="mb-6" aria-label="what to start with">
      <h1 className="text-lg font-bold">What to start with</h1>
      {common && (
        <p className="rule-t flex items-baseline gap-3 py-2">
          <button type="button" className="act shrink-0" onClick={() => edit(shedWithSchools(common))}>
            Your common shed
          </button>
          <span>
            {(common.ropes ?? []).map((r) => r.name).join(", ") || "without ropes"}, as it was measured and inspected.
          </span>
        </p>
      )}
      {(kits.data ?? []).map((k) => (
        <p key={k.key} className="rule-t flex items-baseline gap-3 py-2">
          <button
            type="button"
            className="act w-48 shrink-0 text-left"
            onClick={() => edit(shedWithSchools(common ?? k.shed), setAt(["party"], k.party))}
          >
            {common ? `Your shed, people as usual: ${k.name}` : `A usual kit: ${k.name}`}
          </button>
          <span>{k.about}</span>
        </p>
      ))}
      <p className="quiet mt-1 max-w-2xl">
        Every figure of a usual kit is typical, not yours: what is used of it is not checked until you have put your own
        in, or said that it is as yours.
      </p>
    </section>
  );
}

/** Kit and people from another plan, for a plan that has none. */
function OtherPlan() {
  const { view, plan, edit } = useSession();
  const plans = useQuery({ queryKey: ["plans"], queryFn: api.plans });
  const others = (plans.data ?? []).filter((p) => p.id !== view.id);
  if (others.length === 0 || !isEmpty(plan)) return null;
  const take = async (id: string) => {
    const from = await api.open(id);
    edit(shedWithSchools(from.plan.shed), setAt(["party"], from.plan.party));
  };
  return (
    <div className="mt-6 max-w-sm">
      <Choose
        label="or take kit and people from another plan"
        value=""
        choices={others.map((p) => ({ value: p.id, label: p.title }))}
        onChange={(id) => void take(id)}
      />
    </div>
  );
}
