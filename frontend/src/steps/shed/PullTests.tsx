// The guide's own pull tests: samples in, mean and spread out, and what they may be used for.
import { setAt } from "../../state/edits";
import type { Drop, PullTest, Shed } from "../../state/model";
import { useSession } from "../../state/plan";
import { Choose, DateField, Labelled, type Path, TextField, Typed } from "../../ui/fields";
import { Num } from "../../ui/Num";
import { LoadCell } from "./LoadCell";
import { Samples } from "./Samples";
import { SamplesField } from "./SamplesField";

/** Everything in the shed whose strength a test may give: its path and how it is called. */
function targets(shed: Shed, drops: readonly Drop[]): { value: string; label: string; path: Path }[] {
  const made: { value: string; label: string; path: Path }[] = [];
  const put = (list: string, items: readonly { id: string; name: string }[], field: string, what: string) =>
    made.push(
      ...items.map((x) => ({
        value: `${list}/${x.id}`,
        label: `${what} ${x.name}`,
        path: ["shed", list, `#${x.id}`, field],
      })),
    );
  put("webbing", shed.webbing ?? [], "strength_kn", "one strand of");
  put("ropes", shed.ropes ?? [], "strength_kn", "rope");
  put("slings", shed.slings ?? [], "rating_kn", "sling");
  put("tethers", shed.tethers ?? [], "strength_kn", "tether");
  put("rings", shed.rings ?? [], "rating_kn", "connector");
  put("devices", shed.devices ?? [], "rating_kn", "device");
  // What was tested is tied at a station, in either of its states.
  for (const d of drops)
    d.station.states.forEach((s, n) => {
      const whose = `${d.name}${n ? ", last person" : ""}`;
      const at: Path = ["drops", `#${d.id}`, "station", "states", n, "system"];
      if ("slips_kn" in s.system)
        made.push({ value: `join/${d.id}/${n}`, label: `slip of the join on ${whose}`, path: [...at, "slips_kn"] });
      if ("block_holds" in s.system)
        made.push({
          value: `block/${d.id}/${n}`,
          label: `${s.system.kind === "alternating bights" ? "chain of bights" : "block"} on ${whose}`,
          path: [...at, "block_holds"],
        });
    });
  return made;
}

export function PullTestForm({ t, path }: { t: PullTest; path: Path }) {
  const { view, plan, edit } = useSession();
  const a = view.assessment.pull_tests.find((x) => x.id === t.id);
  const samples = t.samples_kn ?? [];
  const all = targets(plan.shed, plan.drops ?? []);
  return (
    <div>
      <div className="grid grid-cols-2 gap-x-5 gap-y-3">
        <SamplesField
          label="loads at which each sample failed, one after another"
          name="samples"
          path={[...path, "samples_kn"]}
          samples={samples}
          quantity="force"
          placeholder="12.1  11.8  12.4"
          className="col-span-2"
        />
        <DateField label="pulled on" path={[...path, "on"]} value={t.on ?? null} />
        <TextField label="what, how, on what" path={[...path, "note"]} value={t.note ?? ""} />
        <TextField label="material" path={[...path, "material"]} value={t.material ?? ""} />
        <TextField label="knot, none for unknotted" path={[...path, "knot"]} value={t.knot ?? ""} />
        <TextField label="how it was pulled" path={[...path, "configuration"]} value={t.configuration ?? ""} />
        <Labelled label="what broke, sample by sample, with a comma between">
          <Typed
            label="what broke"
            className="w-full"
            value={(t.broke ?? []).join(", ")}
            onCommit={(text) =>
              edit(setAt([...path, "broke"], text.trim() ? text.split(",").map((x) => x.trim()) : []))
            }
          />
        </Labelled>
      </div>
      <LoadCell onPeak={(kn) => edit(setAt([...path, "samples_kn"], [...samples, kn]))} />
      {a && samples.length > 1 && <Samples t={t} a={a} />}
      <table className="mt-3 w-96 text-[13px]" aria-label="what the samples say">
        <tbody>
          <tr className="rule-t">
            <td className="py-0.5">samples</td>
            <td className="text-right">{samples.length}</td>
          </tr>
          {a?.mean && (
            <tr className="rule-t">
              <td className="py-0.5">mean</td>
              <td className="text-right">
                <Num n={a.mean} />
              </td>
            </tr>
          )}
          {a?.spread && (
            <tr className="rule-t">
              <td className="py-0.5">sample standard deviation</td>
              <td className="text-right">
                <Num n={a.spread} />
              </td>
            </tr>
          )}
          {a?.least && (
            <tr className="rule-t">
              <td className="py-0.5">mean less three of them</td>
              <td className="text-right">
                <Num n={a.least} />
              </td>
            </tr>
          )}
          {a?.tolerance && (
            <tr className="rule-t">
              <td className="py-0.5">tolerance limit: 95 of 100 hold more, 95 times in 100</td>
              <td className="text-right">
                <Num n={a.tolerance} />
              </td>
            </tr>
          )}
          {a?.retention && (
            <tr className="rule-t">
              <td className="py-0.5">
                kept of “{a.retention.of}”, unknotted
                {a.retention.low && a.retention.high && (
                  <span className="quiet">
                    {" "}
                    (<Num n={a.retention.low} /> to <Num n={a.retention.high} />, 95 times in 100)
                  </span>
                )}
              </td>
              <td className="text-right">
                <Num n={a.retention.kept} />
              </td>
            </tr>
          )}
        </tbody>
      </table>
      {a?.odd.map((n) => (
        <p key={n} className="sev-Caution mt-2 text-[13px]">
          Sample {n} lies farther from the others than chance lets it (Grubbs, 5 %). It is counted; find out why before
          it is left out.
        </p>
      ))}
      {a?.why && <p className="sev-Not-checked mt-2 text-[13px]">Not to be used: {a.why}.</p>}
      {a?.use && (
        <div className="mt-4 max-w-md">
          <Choose
            label="use it in this plan: low end the lower of the two, high end the mean"
            value=""
            choices={all.map((x) => ({ value: x.value, label: `for ${x.label}` }))}
            onChange={(v) => {
              const target = all.find((x) => x.value === v);
              if (target) edit(setAt(target.path, a.use));
            }}
          />
          {all.length === 0 && (
            <p className="quiet text-xs">There is nothing in the shed yet that it could stand for.</p>
          )}
        </div>
      )}
    </div>
  );
}
