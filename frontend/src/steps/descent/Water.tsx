// The gauge against every station's own limits: which to turn back from, now.
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api } from "../../api/client";
import { useInstrument } from "../../state/devices";
import type { WaterView } from "../../state/model";
import { useSession } from "../../state/plan";
import { Connection } from "../../ui/Connection";
import { Num, Said } from "../../ui/Num";

const STANDS: Record<WaterView["stations"][number]["stands"], string> = {
  go: "go, by own limits",
  "decide there": "decide there",
  "not known": "not known",
  "turn back": "turn back",
};
const SEVERITY = {
  go: "",
  "decide there": "sev-Caution",
  "not known": "sev-Not-checked",
  "turn back": "sev-Shortfall",
};
const ORDER = ["turn back", "not known", "decide there", "go"] as const;

export function Water() {
  const { view, plan } = useSession();
  const instrument = useInstrument("gauge", 1000);
  const { data } = useQuery({
    queryKey: ["water", view.id, view.revision],
    queryFn: () => api.water(view.id),
    refetchInterval: 1000,
    placeholderData: (before) => before,
  });
  const drops = plan.drops ?? [];
  const stations = data?.stations ?? [];
  const worst = ORDER.find((o) => stations.some((s) => s.stands === o));
  const at = stations.filter((s) => s.stands === worst).map((s) => drops.findIndex((d) => d.id === s.drop) + 1);
  return (
    <div className="max-w-4xl" data-testid="water">
      <h1 className="text-lg font-bold">Water and weather</h1>
      {worst && (
        <p role="status" className={`my-1 text-xl font-bold ${SEVERITY[worst]}`}>
          {STANDS[worst][0]!.toUpperCase()}
          {STANDS[worst].slice(1)}
          {worst !== "go" && ` at ${at.length === 1 ? "station" : "stations"} ${at.join(", ")}`}
        </p>
      )}
      {data && (
        <dl className="my-2 flex flex-wrap gap-x-8 gap-y-1">
          {(
            [
              ["level at the gauge", data.flow.level],
              ["rising", data.flow.rise],
              ["at the most", data.flow.most_rise],
              ["rain", data.flow.rain],
              ["last read, ago", data.flow.age_min],
            ] as const
          ).map(([label, n]) => (
            <div key={label}>
              <dt className="quiet text-xs">{label}</dt>
              <dd className="num text-lg font-semibold">{n ? <Num n={n} /> : <span className="quiet">–</span>}</dd>
            </div>
          ))}
        </dl>
      )}
      {data?.flow.why && data.state !== "none" && <p className="sev-Not-checked">Not known: {data.flow.why}.</p>}
      <Connection kind="gauge" of={instrument} />
      {stations.length === 0 ? (
        <p className="mt-4">
          No station has limits yet.{" "}
          <Link className="underline" to={`/plans/${view.id}/survey/${drops[0]?.id ?? ""}`}>
            Set them under Survey
          </Link>
          , station by station.
        </p>
      ) : (
        <table className="home-table mt-4 max-w-4xl" aria-label="stations and their limits">
          <tbody>
            {stations.map((s) => {
              const n = drops.findIndex((d) => d.id === s.drop);
              return (
                <tr key={s.drop} data-stands={s.stands}>
                  <td className="num">{n + 1}</td>
                  <td className="whitespace-nowrap">
                    <Link className="underline" to={`/plans/${view.id}/survey/${s.drop}`}>
                      {drops[n]?.name}
                    </Link>
                  </td>
                  <td className={`font-bold whitespace-nowrap ${SEVERITY[s.stands]}`}>{STANDS[s.stands]}</td>
                  <td>
                    <Said s={s.said} />
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
      <p className="quiet mt-4 max-w-2xl text-[13px]">
        The limits are yours, and a gauge tells only of where it stands: what falls upstream of it is not in them.
        Whoever is at the edge decides by what they see.
      </p>
    </div>
  );
}
