// Two states of one station: the ring near the anchor for the party, over the edge for the last person. Ways to make
// one, and back.
import { useQuery } from "@tanstack/react-query";
import { useContext } from "react";
import { api } from "../../api/client";
import { applyEdits } from "../../state/edits";
import type { Drop, DropAssessment, Part } from "../../state/model";
import { useSession } from "../../state/plan";
import { sameBefore } from "../../state/same";
import { WhichContext } from "../../state/which";
import { Num } from "../../ui/Num";

export function Courtesy({ drop, whole }: { drop: Drop; whole: DropAssessment }) {
  const { view, edit } = useSession();
  const { which, setWhich } = useContext(WhichContext);
  const key = ["courtesy", view.id, view.rests, drop.id];
  const query = useQuery({
    queryKey: key,
    queryFn: () => api.courtesy(view.id, view.revision, drop.id),
    staleTime: Infinity,
    placeholderData: sameBefore(key),
  });
  const ways = query.data ?? [];
  return (
    <section aria-label="courtesy rig" aria-busy={query.isPlaceholderData}>
      {whole.last ? (
        <>
          <table className="w-full text-[13px]" aria-label="both states">
            <thead>
              <tr className="quiet text-left text-xs [&_th]:font-normal">
                <td />
                <th>for the party</th>
                <th>for the last person</th>
              </tr>
            </thead>
            <tbody>
              <Row
                name="ring, out from the anchor"
                cells={[whole, whole.last].map((s) =>
                  s.geometry.ring ? (
                    <Num
                      key="n"
                      n={{
                        value: Math.hypot(s.geometry.ring[0], s.geometry.ring[1]),
                        quantity: "fine length",
                        toward: "near",
                        working: "",
                      }}
                    />
                  ) : (
                    "not checked"
                  ),
                )}
              />
              <Row name="weakest part" cells={[whole, whole.last].map((s) => <Weakest key="w" parts={s.parts} />)} />
              <Row
                name="edge"
                cells={[whole, whole.last].map((s) => {
                  const e = s.geometry.contacts.find((c) => c.kind === "edge");
                  return e ? (
                    <>
                      turns <Num n={e.turn} className="font-normal" />
                    </>
                  ) : (
                    "the rope meets none"
                  );
                })}
              />
              <Row
                name="webbing to cut"
                cells={[whole, whole.last].map((s) =>
                  s.cuts.map(([, n], i) => (
                    <span key={i} className="mr-2">
                      {n ? <Num n={n as NonNullable<typeof n> & { value: number }} /> : "not checked"}
                    </span>
                  )),
                )}
              />
              <Row
                name="drawn and edited above"
                cells={[0, 1].map((n) =>
                  n === which ? (
                    <b key="x">this one</b>
                  ) : (
                    <button
                      key="x"
                      type="button"
                      className="min-h-6 cursor-pointer font-semibold underline"
                      onClick={() => setWhich(n)}
                    >
                      show
                    </button>
                  ),
                )}
              />
            </tbody>
          </table>
          <p className="quiet mt-1 text-xs">
            Before the last person goes they set the ring over the edge: an awkward start, alone. Once it hangs there,
            check both knots, and that the rope runs.
          </p>
        </>
      ) : (
        <p className="mb-2">
          One state for everyone. A courtesy rig keeps the ring near the anchor while the party starts. The last person
          sets it over the edge, where the rope pulls easily.
        </p>
      )}
      <div className="mt-2 grid gap-1">
        {ways.map((w) => (
          <div key={w.key} className="rule-t grid grid-cols-[1fr_auto] items-center gap-x-4 py-1">
            <span>
              <b>{w.name}</b> <span className="quiet text-[13px]">{w.why_not ? `Not here: ${w.why_not}.` : w.why}</span>
            </span>
            <button
              type="button"
              className="act"
              disabled={w.edits.length === 0}
              aria-label={`${w.key === "one" ? "Go back" : "Rig it so"}: ${w.name}`}
              onClick={() => {
                setWhich(0);
                edit(applyEdits(w.edits));
              }}
            >
              {w.key === "one" ? "Go back" : "Rig it so"}
            </button>
          </div>
        ))}
      </div>
    </section>
  );
}

function Row({ name, cells }: { name: string; cells: readonly React.ReactNode[] }) {
  return (
    <tr className="rule-t">
      <td className="quiet py-0.5 pr-3">{name}</td>
      {cells.map((c, i) => (
        <td key={i} className="pr-3">
          {c}
        </td>
      ))}
    </tr>
  );
}

function Weakest({ parts }: { parts: readonly Part[] }) {
  const p = parts.find((x) => x.weakest);
  return p?.low ? (
    <>
      {p.name}, <Num n={p.low} />
    </>
  ) : (
    <span className="sev-Not-checked">not checked</span>
  );
}
