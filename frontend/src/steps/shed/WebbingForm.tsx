// Webbing of the shed, in pieces.
import { Plus, Trash2 } from "lucide-react";
import { freshId, setAt, unknown } from "../../state/edits";
import type { Webbing } from "../../state/model";
import { useSession } from "../../state/plan";
import { CapacityField, ChoiceField, FigureField, type Path, SurveyField } from "../../ui/fields";
import { Num } from "../../ui/Num";
import { Colour } from "./Colour";

export const FIBRES = ["nylon", "polyester", "HMPE", "aramid", "unknown"];

export function WebbingForm({ w, path }: { w: Webbing; path: Path }) {
  const { edit, view } = useSession();
  const pieces = w.pieces ?? [];
  const at: Path = [...path, "pieces"];
  const used = view.assessment.webbing.find((x) => x.id === w.id);
  return (
    <div>
      <div className="grid grid-cols-2 gap-x-5 gap-y-3">
        <ChoiceField
          label="fibre"
          path={[...path, "fibre"]}
          value={w.fibre}
          choices={["nylon", "polyester", "HMPE", "unknown"]}
        />
        <FigureField
          label="thickness"
          path={[...path, "thickness_mm"]}
          figure={w.thickness_mm}
          quantity="diameter"
          why="not measured"
        />
        <CapacityField
          className="col-span-2"
          label="strength of one strand, unknotted"
          path={[...path, "strength_kn"]}
          capacity={w.strength_kn}
          sources={["label", "P: common practice, no source"]}
        />
        <FigureField
          label="mass of a metre"
          path={[...path, "mass_kg_m"]}
          figure={w.mass_kg_m!}
          quantity="line mass"
          why="not weighed"
        />
        <Colour path={path} value={w.colour ?? "#7a3b6b"} />
      </div>
      <div className="mt-5 flex items-center gap-3">
        <h3 className="text-[13px] font-bold">Pieces as they lie in the shed</h3>
        <button
          type="button"
          className="act plain"
          onClick={() => edit(setAt(at, [...pieces, { id: freshId("p", pieces), length_m: unknown("not measured") }]))}
        >
          <Plus size={14} className="inline" /> add a piece
        </button>
      </div>
      <div className="max-w-xs">
        {pieces.map((p, i) => (
          <div key={p.id} className="flex items-end gap-2">
            <SurveyField
              className="grow"
              label={`piece ${i + 1}`}
              path={[...at, `#${p.id}`, "length_m"]}
              figure={p.length_m}
              quantity="length"
              why="not measured"
            />
            <button
              type="button"
              className="act plain px-1"
              aria-label={`remove piece ${i + 1}`}
              onClick={() =>
                edit(
                  setAt(
                    at,
                    pieces.filter((x) => x.id !== p.id),
                  ),
                )
              }
            >
              <Trash2 size={15} />
            </button>
          </div>
        ))}
      </div>
      {used && used.cuts.length > 0 && (
        <>
          <h3 className="mt-5 text-[13px] font-bold">
            To cut for the whole descent: <Num n={used.total} />
            {used.stock && (
              <>
                {" "}
                of <Num n={used.stock} />
              </>
            )}
          </h3>
          <table className="w-full max-w-md text-[13px]" aria-label="webbing to cut">
            <tbody>
              {used.cuts.map((c) => (
                <tr key={c.drop} className="rule-t">
                  <td className="py-0.5">
                    {c.number} · {c.name}
                  </td>
                  <td className="text-right">
                    <Num n={{ ...c.length, working: "" }} />
                  </td>
                  <td className={`w-32 pl-4 ${c.piece ? "quiet" : "sev-Shortfall font-semibold"}`}>
                    {c.piece ? `from piece ${c.piece}` : "from no piece"}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          {used.unknown > 0 && (
            <p className="sev-Not-checked mt-1 text-xs">
              What {used.unknown} more station{used.unknown === 1 ? "" : "s"} take is not known.
            </p>
          )}
        </>
      )}
    </div>
  );
}
