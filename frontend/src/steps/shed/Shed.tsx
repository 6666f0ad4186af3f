// Shed: ropes, cords, webbing, rings, people and the margin this plan is checked by.
import { useQuery } from "@tanstack/react-query";
import { Plus, Trash2 } from "lucide-react";
import { type ReactNode, useState } from "react";
import { api } from "../../api/client";
import type { Row } from "../../api/types.gen";
import { freshId, freshName, setAt, unknown } from "../../state/edits";
import type { Person, Plan, Ring, Rope, RopeAssessment, Webbing } from "../../state/model";
import { useSession } from "../../state/plan";
import { CapacityField, ChoiceField, Choose, DateField, FigureField, type Path, SurveyField, TextField, Typed } from "../../ui/fields";
import { Num } from "../../ui/Num";
import { Swatch } from "../Right";
import { OwnFigures } from "./OwnFigures";

const ROPE_KINDS = ["low-stretch", "dynamic single", "dynamic half", "dynamic twin"];
const COLOURS = ["#2f6f9f", "#3f7d4e", "#d0742a", "#8a3b5c", "#6b7280", "#b8952b", "#4b4a8c", "#a33a2c"];
const STRIPE_NAMES = ["plain", "dashes", "dots", "bars", "twin line", "long dash"] as const;
const FIBRES = ["nylon", "polyester", "HMPE", "aramid", "unknown"];

type Chosen = { list: "ropes" | "webbing" | "rings" | "party"; id: string } | { list: "margin" } | { list: "plan" } | { list: "figures" };

function rope(plan: Plan, cord: boolean): Rope {
  const ropes = plan.shed.ropes ?? [];
  const n = ropes.length;
  return {
    id: freshId("rope-", ropes), name: freshName(cord ? "Cord" : "Rope", ropes), kind: cord ? "pull cord" : "low-stretch",
    nominal_m: unknown("not entered"), measured_m: unknown("never measured"), wet_since_measured: "unknown", diameter_mm: unknown("not entered"),
    fibre: "unknown", strength_kn: unknown("no label figure"), elongation_pct: unknown("no label figure"), middle_mark: false,
    middle_off_m: unknown("never checked"), damage: [], colour: COLOURS[n % COLOURS.length]!, stripe: STRIPE_NAMES[(n + 1) % STRIPE_NAMES.length]!,
  };
}

/** New webbing: its strength is the table's figure with the table's source, its thickness has to be measured. */
function webbing(plan: Plan, figure: Row | undefined): Webbing {
  const all = plan.shed.webbing ?? [];
  return {
    id: freshId("web-", all), name: freshName("25 mm tubular nylon", all), fibre: "nylon", thickness_mm: unknown("not measured"),
    strength_kn: figure ? { kind: "range", low_kn: figure.low, high_kn: figure.high, source: figure.cited ?? figure.source } : unknown("no label figure"), stock_m: unknown("not entered"), colour: "#7a3b6b",
  };
}

function ring(plan: Plan): Ring {
  const all = plan.shed.rings ?? [];
  return { id: freshId("ring-", all), name: freshName("ring", all), thickness_mm: unknown("not measured"), opening_mm: unknown("not measured"), rating_kn: unknown("no rating on it") };
}

function person(plan: Plan): Person {
  const all = plan.party ?? [];
  return { id: freshId("p", all), name: freshName("Person", all), role: all.length === 0 ? "guide" : "able", mass_kg: unknown("not asked") };
}

export function Shed() {
  const { plan, view, edit } = useSession();
  const [chosen, setChosen] = useState<Chosen | null>(null);
  const ropes = (plan.shed.ropes ?? []).filter((r) => r.kind !== "pull cord");
  const cords = (plan.shed.ropes ?? []).filter((r) => r.kind === "pull cord");
  const first: Chosen = ropes[0] ? { list: "ropes", id: ropes[0].id } : { list: "margin" };
  const at = chosen ?? first;
  const isOn = (list: Chosen["list"], id = "") => at.list === list && (at.list === "margin" || at.list === "plan" || at.list === "figures" || at.id === id);
  const add = (list: "ropes" | "webbing" | "rings" | "party", make: (plan: Plan) => { id: string }) => {
    const item = make(plan);
    const path: Path = list === "party" ? ["party"] : ["shed", list];
    edit((p) => setAt(path, [...((list === "party" ? p.party : p.shed[list]) ?? []), item])(p));
    setChosen({ list, id: item.id });
  };
  const tables = useQuery({ queryKey: ["tables"], queryFn: api.tables, staleTime: Infinity, retry: false });
  const figure = tables.data?.find((t) => t.name === "materials")?.rows.find((r) => r.key === "webbing.25 mm tubular nylon");
  const lengths = new Map(view.assessment.ropes.map((r) => [r.id, r]));
  const empty = ropes.length + cords.length + (plan.shed.webbing ?? []).length + (plan.shed.rings ?? []).length + (plan.party ?? []).length === 0;
  return (
    <div className="flex h-full min-h-0">
      <div className="h-full w-[270px] shrink-0 overflow-y-auto border-r border-[var(--rule)] bg-base-200 p-3" aria-label="shed">
        {empty && <TakeOver />}
        <Group title="Ropes" onAdd={() => add("ropes", (p) => rope(p, false))}>
          {ropes.map((r) => <RopeRow key={r.id} r={r} length={lengths.get(r.id)} on={isOn("ropes", r.id)} onClick={() => setChosen({ list: "ropes", id: r.id })} />)}
        </Group>
        <Group title="Pull cords" onAdd={() => add("ropes", (p) => rope(p, true))}>
          {cords.map((r) => <RopeRow key={r.id} r={r} length={lengths.get(r.id)} on={isOn("ropes", r.id)} onClick={() => setChosen({ list: "ropes", id: r.id })} />)}
        </Group>
        <Group title="Webbing" onAdd={() => add("webbing", (p) => webbing(p, figure))}>
          {(plan.shed.webbing ?? []).map((w) => (
            <ListRow key={w.id} on={isOn("webbing", w.id)} onClick={() => setChosen({ list: "webbing", id: w.id })} name={w.name}
              aside={w.stock_m.kind === "known" ? <Num n={{ value: w.stock_m.value, quantity: "length", toward: "down", working: "" }} /> : <Open />} />
          ))}
        </Group>
        <Group title="Rings" onAdd={() => add("rings", ring)}>
          {(plan.shed.rings ?? []).map((r) => (
            <ListRow key={r.id} on={isOn("rings", r.id)} onClick={() => setChosen({ list: "rings", id: r.id })} name={r.name}
              aside={r.rating_kn.kind === "range" ? <Num n={{ value: r.rating_kn.low_kn, quantity: "force", toward: "down", working: "" }} /> : <Open />} />
          ))}
        </Group>
        <Group title="People" onAdd={() => add("party", person)}>
          {(plan.party ?? []).map((p) => (
            <ListRow key={p.id} on={isOn("party", p.id)} onClick={() => setChosen({ list: "party", id: p.id })} name={p.name} sub={p.role}
              aside={p.mass_kg.kind === "known" ? <Num n={{ value: p.mass_kg.value, quantity: "mass", toward: "up", working: "" }} /> : <Open />} />
          ))}
        </Group>
        <Group title="Plan and policy">
          <ListRow on={isOn("plan")} onClick={() => setChosen({ list: "plan" })} name="Title, place, date, notes" />
          <ListRow on={isOn("margin")} onClick={() => setChosen({ list: "margin" })} name="Margin and knots" aside={<span className="quiet">{plan.policies?.margin?.kind ?? "peak"}</span>} />
          <ListRow on={isOn("figures")} onClick={() => setChosen({ list: "figures" })} name="Own figures" aside={<span className="quiet">{(plan.own_figures ?? []).length || "none"}</span>} />
        </Group>
      </div>
      <div className="min-w-0 grow overflow-y-auto p-5">
        <Detail at={at} onGone={() => setChosen(null)} length={at.list === "ropes" ? lengths.get(at.id) : undefined} />
      </div>
    </div>
  );
}

function Open() {
  return <span className="sev-Not-checked text-xs font-semibold">unknown</span>;
}

function Group({ title, onAdd, children }: { title: string; onAdd?: () => void; children: ReactNode }) {
  return (
    <section className="mb-3" aria-label={title}>
      <div className="flex items-center">
        <h2 className="grow text-[13px] font-bold">{title}</h2>
        {onAdd && <button type="button" className="act plain px-1.5" aria-label={`add to ${title}`} onClick={onAdd}><Plus size={14} className="inline" /> add</button>}
      </div>
      {children}
    </section>
  );
}

function ListRow({ on, onClick, name, sub, aside, before }: { on: boolean; onClick: () => void; name: string; sub?: string; aside?: ReactNode; before?: ReactNode }) {
  return (
    <button type="button" aria-current={on || undefined} onClick={onClick} className={`flex w-full cursor-pointer items-center gap-2 rounded px-2 py-1 text-left ${on ? "bg-base-100 shadow-[inset_3px_0_0_var(--color-accent)]" : "hover:bg-base-100/60"}`}>
      {before}
      <span className="min-w-0 grow truncate">{name} {sub && <span className="quiet text-xs">{sub}</span>}</span>
      {aside}
    </button>
  );
}

function RopeRow({ r, length, on, onClick }: { r: Rope; length: RopeAssessment | undefined; on: boolean; onClick: () => void }) {
  return <ListRow on={on} onClick={onClick} name={r.name} before={<Swatch rope={r} />} aside={length?.low ? <Num n={{ ...length.low, working: "" }} /> : <Open />} />;
}

/** Kit and people from another plan, for a plan that has none. */
function TakeOver() {
  const { view, edit } = useSession();
  const plans = useQuery({ queryKey: ["plans"], queryFn: api.plans });
  const others = (plans.data ?? []).filter((p) => p.id !== view.id);
  if (others.length === 0) return null;
  const take = async (id: string) => {
    const from = await api.open(id);
    edit(setAt(["shed"], from.plan.shed), setAt(["party"], from.plan.party));
  };
  return (
    <div className="mb-4">
      <Choose label="take kit and people from" value="" choices={others.map((p) => ({ value: p.id, label: p.title }))} onChange={(id) => void take(id)} />
    </div>
  );
}

function Detail({ at, onGone, length }: { at: Chosen; onGone: () => void; length: RopeAssessment | undefined }) {
  const { plan, edit } = useSession();
  if (at.list === "margin") return <Margin />;
  if (at.list === "plan") return <About />;
  if (at.list === "figures") return <OwnFigures />;
  const root: Path = at.list === "party" ? ["party"] : ["shed", at.list];
  const items: readonly { id: string; name: string }[] = (at.list === "party" ? plan.party : plan.shed[at.list]) ?? [];
  const item = items.find((x) => x.id === at.id);
  if (!item) return <p className="quiet">Choose something on the left, or add to a list.</p>;
  const path: Path = [...root, `#${item.id}`];
  const remove = () => { edit((p) => setAt(root, ((at.list === "party" ? p.party : p.shed[at.list]) ?? []).filter((x) => x.id !== item.id))(p)); onGone(); };
  return (
    <div className="max-w-2xl">
      <div className="mb-3 flex items-end gap-4">
        <TextField label="name" path={[...path, "name"]} value={item.name} className="w-64" />
        <span className="grow" />
        <button type="button" className="act plain sev-Shortfall" onClick={remove} title="Undo brings it back"><Trash2 size={14} className="inline" /> Remove</button>
      </div>
      {at.list === "ropes" && <RopeForm r={item as Rope} path={path} length={length} />}
      {at.list === "webbing" && <WebbingForm w={item as Webbing} path={path} />}
      {at.list === "rings" && <RingForm r={item as Ring} path={path} />}
      {at.list === "party" && <PersonForm p={item as Person} path={path} />}
    </div>
  );
}

function RopeForm({ r, path, length }: { r: Rope; path: Path; length: RopeAssessment | undefined }) {
  const { edit } = useSession();
  const cord = r.kind === "pull cord";
  return (
    <div>
      <p className="rule-t rule-b mb-4 py-2 text-[15px]">
        {length?.low && length.high
          ? <>Counted as <Num n={length.low} /> at the least, <Num n={length.high} /> at the most.</>
          : <span className="sev-Not-checked font-semibold">Length not checked: {length?.why}</span>}
      </p>
      <div className="grid grid-cols-2 gap-x-5 gap-y-3">
        <FigureField label="nominal length, on its label" path={[...path, "nominal_m"]} figure={r.nominal_m} quantity="length" why="not entered" />
        <SurveyField label="measured length" path={[...path, "measured_m"]} figure={r.measured_m} quantity="length" why="never measured" />
        {r.measured_m.kind === "known" && <DateField label="measured on" path={[...path, "measured_m", "on"]} value={r.measured_m.on} />}
        <ChoiceField label={r.measured_m.kind === "known" ? "wet since it was measured" : "wet since new"} path={[...path, "wet_since_measured"]} value={r.wet_since_measured ?? "unknown"} choices={["yes", "no", "unknown"]} />
        <FigureField label="diameter" path={[...path, "diameter_mm"]} figure={r.diameter_mm} quantity="diameter" why="not entered" />
        {!cord && <ChoiceField label="kind" path={[...path, "kind"]} value={r.kind} choices={ROPE_KINDS} />}
        <ChoiceField label="fibre" path={[...path, "fibre"]} value={r.fibre ?? "unknown"} choices={FIBRES} />
        <FigureField label={r.kind.startsWith("dynamic") ? "static elongation, 80 kg" : "elongation, 50 to 150 kg"} path={[...path, "elongation_pct"]} figure={r.elongation_pct} quantity="percent" why="no label figure" />
        <CapacityField className="col-span-2" label="breaking strength on its label, unknotted" path={[...path, "strength_kn"]} capacity={r.strength_kn} sources={["label"]} />
        <label className="flex items-center gap-2 self-end pb-1.5">
          <input type="checkbox" className="size-4 accent-[var(--color-accent)]" checked={r.middle_mark ?? false} onChange={(e) => edit(setAt([...path, "middle_mark"], e.target.checked))} />
          has a middle mark
        </label>
        {r.middle_mark && <SurveyField label="middle mark off by" path={[...path, "middle_off_m"]} figure={r.middle_off_m} quantity="fine length" why="never checked" />}
      </div>
      <h3 className="mt-5 mb-1 text-[13px] font-bold">How it is drawn</h3>
      <div className="flex items-end gap-4">
        <label className="block"><span className="quiet block text-xs">colour</span>
          <input type="color" className="h-7 w-14 cursor-pointer" aria-label="colour" value={r.colour ?? "#777777"} onChange={(e) => edit(setAt([...path, "colour"], e.target.value))} />
        </label>
        <ChoiceField label="stripe" path={[...path, "stripe"]} value={r.stripe ?? "plain"} choices={STRIPE_NAMES} className="w-32" />
        <span className="pb-2"><Swatch rope={r} width={140} /></span>
      </div>
      <DamageForm r={r} path={path} />
    </div>
  );
}

function DamageForm({ r, path }: { r: Rope; path: Path }) {
  const { edit } = useSession();
  const damage = r.damage ?? [];
  const at: Path = [...path, "damage"];
  return (
    <div className="mt-5">
      <div className="flex items-center gap-3">
        <h3 className="text-[13px] font-bold">Damaged places tied out of use</h3>
        <button type="button" className="act plain" onClick={() => edit(setAt(at, [...damage, { at_m: unknown("not measured"), takes_m: unknown("not measured"), note: "" }]))}><Plus size={14} className="inline" /> add</button>
      </div>
      {damage.map((d, i) => (
        <div key={i} className="mt-1 grid grid-cols-[1fr_1fr_1fr_2rem] items-end gap-x-3">
          <SurveyField label="from end A" path={[...at, i, "at_m"]} figure={d.at_m} quantity="length" why="not measured" />
          <SurveyField label="rope it takes" path={[...at, i, "takes_m"]} figure={d.takes_m} quantity="length" why="not measured" />
          <label className="block"><span className="quiet block text-xs">what</span>
            <Typed label="what the damage is" value={d.note ?? ""} className="w-full" onCommit={(v) => edit(setAt([...at, i, "note"], v))} /></label>
          <button type="button" className="act plain px-1" aria-label="remove this damage" onClick={() => edit(setAt(at, damage.filter((_, j) => j !== i)))}><Trash2 size={15} /></button>
        </div>
      ))}
    </div>
  );
}

function WebbingForm({ w, path }: { w: Webbing; path: Path }) {
  const { edit } = useSession();
  return (
    <div className="grid grid-cols-2 gap-x-5 gap-y-3">
      <ChoiceField label="fibre" path={[...path, "fibre"]} value={w.fibre} choices={["nylon", "polyester", "HMPE", "unknown"]} />
      <FigureField label="thickness" path={[...path, "thickness_mm"]} figure={w.thickness_mm} quantity="diameter" why="not measured" />
      <SurveyField label="how much there is" path={[...path, "stock_m"]} figure={w.stock_m} quantity="length" why="not entered" />
      <label className="block"><span className="quiet block text-xs">colour</span>
        <input type="color" className="h-7 w-14 cursor-pointer" aria-label="colour" value={w.colour ?? "#7a3b6b"} onChange={(e) => edit(setAt([...path, "colour"], e.target.value))} />
      </label>
      <CapacityField className="col-span-2" label="strength of one strand, unknotted" path={[...path, "strength_kn"]} capacity={w.strength_kn} sources={["label", "P: common practice, no source"]} />
    </div>
  );
}

function RingForm({ r, path }: { r: Ring; path: Path }) {
  return (
    <div className="grid grid-cols-2 gap-x-5 gap-y-3">
      <FigureField label="thickness of its bar" path={[...path, "thickness_mm"]} figure={r.thickness_mm} quantity="diameter" why="not measured" />
      <FigureField label="opening" path={[...path, "opening_mm"]} figure={r.opening_mm} quantity="diameter" why="not measured" />
      <CapacityField className="col-span-2" label="rating, long axis; with no rating it is unknown" path={[...path, "rating_kn"]} capacity={r.rating_kn} sources={["stamped"]} />
    </div>
  );
}

function PersonForm({ p, path }: { p: Person; path: Path }) {
  return (
    <div className="grid grid-cols-2 gap-x-5 gap-y-3">
      <ChoiceField label="role" path={[...path, "role"]} value={p.role} choices={["guide", "second guide", "able", "novice"]} />
      <FigureField label="weight with clothes, kit and wet pack" path={[...path, "mass_kg"]} figure={p.mass_kg} quantity="mass" why="not asked" />
    </div>
  );
}

function About() {
  const { plan } = useSession();
  return (
    <div className="grid max-w-2xl grid-cols-2 gap-x-5 gap-y-3">
      <TextField label="title" path={["title"]} value={plan.title} />
      <TextField label="place" path={["place"]} value={plan.place ?? ""} />
      <DateField label="date" path={["on"]} value={plan.on ?? null} />
      <TextField label="notes" path={["notes"]} value={plan.notes ?? ""} className="col-span-2" lines={8} />
    </div>
  );
}

function Margin() {
  const { plan, edit } = useSession();
  const margin = plan.policies?.margin ?? { kind: "peak" as const };
  const choose = (kind: string) => edit(setAt(["policies", "margin"], kind === "own" ? { kind, times: 2.5 } : { kind }));
  const text: Record<string, string> = {
    peak: "The low end of what a part holds is at least 2.0 times the peak on it. The peak is twice the rider's weight, at least 4.0 kN.",
    "static ratio": "What a part holds is at least ten times the still weight on it: the rescue habit.",
    own: "The low end of what a part holds is at least your own number times the peak on it.",
  };
  return (
    <div className="max-w-xl">
      <h2 className="mb-2 text-base font-bold">How much more than the load must a part hold?</h2>
      <Choose label="margin" value={margin.kind} choices={[{ value: "peak", label: "2.0 × peak" }, { value: "static ratio", label: "10 × static" }, { value: "own", label: "own number × peak" }]} onChange={choose} className="w-56" />
      {margin.kind === "own" && (
        <label className="mt-2 block w-56"><span className="quiet block text-xs">own number</span>
          <Typed label="own number" className="num w-full text-right" value={String(margin.times)} onCommit={(v) => edit(setAt(["policies", "margin", "times"], Number(v.replace(",", ".")) || v))} />
        </label>
      )}
      <p className="mt-3">{text[margin.kind]}</p>
      <p className="quiet mt-1">All verdicts of this plan follow it.</p>
      <h2 className="mt-6 mb-2 text-base font-bold">How much does a knot cost?</h2>
      <ChoiceField label="retention" path={["policies", "retention"]} value={plan.policies?.retention ?? "graded"} className="w-56"
        choices={[{ value: "graded", label: "graded by knot and fibre" }, { value: "flat half", label: "any knot halves it" }]} />
      <p className="mt-3">
        {plan.policies?.retention === "flat half"
          ? "Every knot is counted at half of the webbing or rope it is tied in, in HMPE and aramid at less."
          : "Each knot has its own range, low to high, by what it is tied in; the low end decides."}
      </p>
    </div>
  );
}
