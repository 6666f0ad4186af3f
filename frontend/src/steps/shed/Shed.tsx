// Shed: ropes, cords, webbing, slings, connectors, devices, tethers, people, pull tests, figures and schools of this
// plan.
import { useQuery } from "@tanstack/react-query";
import { Copy, Plus, Trash2 } from "lucide-react";
import { type ReactNode, useEffect, useState } from "react";
import { api } from "../../api/client";
import type { Row, UsualKit } from "../../api/types.gen";
import { Swatch } from "../../cutaway/Swatch";
import { freshId, freshName, setAt, unknown } from "../../state/edits";
import { useGear } from "../../state/gear";
import type {
  Device,
  Loop,
  Num as N,
  Person,
  Plan,
  PullTest,
  PullTestAssessment,
  Ring,
  Rope,
  RopeAssessment,
  Sling,
  Tether,
  Webbing,
} from "../../state/model";
import { useSession } from "../../state/plan";
import { usersOf } from "../../state/where";
import { DateField, FigureField, type Path, TextField } from "../../ui/fields";
import { useWanted, type Wanted } from "../../ui/goto";
import { Num } from "../../ui/Num";
import { COLOURS } from "./Colour";
import { CommonShed } from "./CommonShed";
import { DeviceForm } from "./DeviceForm";
import { LoopForm } from "./LoopForm";
import { OwnFigures } from "./OwnFigures";
import { PersonForm } from "./PersonForm";
import { PullTestForm } from "./PullTests";
import { Record } from "./Record";
import { RingForm } from "./RingForm";
import { RopeForm, STRIPE_NAMES } from "./RopeForm";
import { Schools } from "./Schools";
import { SlingForm } from "./SlingForm";
import { TetherForm } from "./TetherForm";
import { WebbingForm } from "./WebbingForm";

type ListName = "ropes" | "webbing" | "slings" | "rings" | "devices" | "tethers" | "loops" | "pull_tests" | "party";
type Chosen = { list: ListName; id: string } | { list: "schools" | "plan" | "figures" | "common" };
interface Item {
  id: string;
  name: string;
}

function rope(plan: Plan, cord: boolean): Rope {
  const ropes = plan.shed.ropes ?? [];
  const n = ropes.length;
  return {
    id: freshId("rope-", ropes),
    typical: false,
    name: freshName(cord ? "Cord" : "Rope", ropes),
    kind: cord ? "pull cord" : "low-stretch",
    nominal_m: unknown("not entered"),
    measured_m: unknown("never measured"),
    length_confirmed: false,
    wet_since_measured: "unknown",
    diameter_mm: unknown("not entered"),
    fibre: "unknown",
    strength_kn: unknown("no label figure"),
    elongation_pct: unknown("no label figure"),
    mass_kg_m: unknown("no label figure"),
    middle_mark: false,
    middle_off_m: unknown("never checked"),
    middle_nearer: "unknown",
    damage: [],
    widths: [],
    colour: COLOURS[n % 8]![1],
    stripe: STRIPE_NAMES[(n + 1) % STRIPE_NAMES.length]!,
  };
}

/** New webbing: its strength is the table's figure with the table's source, its thickness has to be measured. */
function webbing(plan: Plan, figure: Row | undefined): Webbing {
  const all = plan.shed.webbing ?? [];
  return {
    id: freshId("web-", [...all, ...(plan.shed.slings ?? [])]),
    typical: false,
    name: freshName("25 mm tubular nylon", all),
    fibre: "nylon",
    thickness_mm: unknown("not measured"),
    strength_kn: figure
      ? { kind: "range", low_kn: figure.low, high_kn: figure.high, source: figure.cited ?? figure.source }
      : unknown("no label figure"),
    pieces: [{ id: "p1", length_m: unknown("not measured") }],
    mass_kg_m: unknown("not weighed"),
    colour: "#7a3b6b",
  };
}

/** The one there is, where there is one. */
const only = (things: readonly Item[]): string | null => (things.length === 1 ? things[0]!.id : null);

const MAKE = {
  slings: (p: Plan): Sling => ({
    id: freshId("sling-", [...(p.shed.slings ?? []), ...(p.shed.webbing ?? [])]),
    typical: false,
    name: freshName("sling", p.shed.slings ?? []),
    fibre: "unknown",
    rating_kn: unknown("no label figure"),
    length_m: unknown("not measured"),
    colour: "#4b4a8c",
    mass_kg: unknown("not weighed"),
  }),
  rings: (p: Plan): Ring => ({
    id: freshId("ring-", p.shed.rings ?? []),
    typical: false,
    name: freshName("ring", p.shed.rings ?? []),
    kind: "ring",
    thickness_mm: unknown("not measured"),
    opening_mm: unknown("not measured"),
    length_m: unknown("not measured"),
    rating_kn: unknown("no rating on it"),
    cross_kn: unknown("no cross rating"),
    open_kn: unknown("no gate-open rating"),
    mass_kg: unknown("not weighed"),
  }),
  devices: (p: Plan): Device => ({
    id: freshId("device-", p.shed.devices ?? []),
    typical: false,
    name: freshName("device", p.shed.devices ?? []),
    rating_kn: unknown("no rating on it"),
    use: "to ride on",
    thinnest_mm: unknown("not stated"),
    thickest_mm: unknown("not stated"),
    strands: "unknown",
    lets_go_after: unknown("not stated"),
    mass_kg: unknown("not weighed"),
  }),
  tethers: (p: Plan): Tether => ({
    id: freshId("tether-", p.shed.tethers ?? []),
    typical: false,
    name: freshName("tether", p.shed.tethers ?? []),
    made_of: "sewn sling",
    fibre: "unknown",
    strength_kn: unknown("no label figure"),
    knot: "none",
    impact_kn: unknown("no label figure"),
    rated: "single",
    length_m: unknown("not measured"),
    kept: "unknown",
    mass_kg: unknown("not weighed"),
  }),
  loops: (p: Plan): Loop => ({
    id: freshId("loop-", p.shed.loops ?? []),
    typical: false,
    name: freshName("cord loop", p.shed.loops ?? []),
    fibre: "unknown",
    diameter_mm: unknown("not measured"),
    length_m: unknown("not measured"),
    made_for_hitch: "unknown",
    mass_kg: unknown("not weighed"),
  }),
  pull_tests: (p: Plan): PullTest => ({
    id: freshId("test-", p.shed.pull_tests ?? []),
    name: freshName("pull test", p.shed.pull_tests ?? []),
    samples_kn: [],
    on: null,
    material: "",
    knot: "",
    configuration: "",
    broke: [],
    note: "",
  }),
  party: (p: Plan): Person => ({
    id: freshId("p", p.party ?? []),
    typical: false,
    name: freshName("Person", p.party ?? []),
    role: (p.party ?? []).length === 0 ? "guide" : "able",
    mass_kg: unknown("not asked"),
    device: only((p.shed.devices ?? []).filter((d) => d.use !== "elastic release")),
    tether: only(p.shed.tethers ?? []),
    hitch: null,
    attachment: { way: "unknown", device_m: unknown("not measured"), join_near: "unknown" },
    alone: "by role",
  }),
};

/** A new thing with the figures that are typical of its kind, marked as such; as it is where nothing is. */
function typically(plan: Plan, list: ListName, bare: Item, kits: readonly UsualKit[]): Item {
  const cord = (x: Item) => (x as Rope).kind === "pull cord";
  const alike = (x: Item) =>
    list === "party" ? (x as Person).role === (bare as Person).role : list !== "ropes" || cord(x) === cord(bare);
  const of = kits.flatMap((k) => itemsOf({ shed: k.shed, party: k.party } as Plan, list)).find(alike);
  if (!of || list === "pull_tests") return bare;
  const { id } = bare;
  if (list === "party") {
    const { mass_kg } = of as Person;
    return Object.assign({}, bare, { mass_kg, typical: true });
  }
  const looks = list === "ropes" ? { colour: (bare as Rope).colour, stripe: (bare as Rope).stripe } : {};
  const name = freshName(of.name.replace(/ \d+$/, ""), itemsOf(plan, list));
  return Object.assign({}, of, looks, { id, name, typical: true });
}

function itemsOf(plan: Plan, list: ListName): readonly Item[] {
  return (list === "party" ? plan.party : plan.shed[list]) ?? [];
}

/** What a set of pull tests gives at its low end; null where it is not to be used. */
const lowOf = (a: PullTestAssessment | undefined) =>
  a?.use ? { value: a.use.low_kn, quantity: "force" as const, toward: "down" as const, working: "" } : null;

const LOOK = "to be looked over";

/** What of the shed a field belongs to. */
function chosenBy(plan: Plan, wanted: Wanted | null): Chosen | null {
  if (!wanted) return null;
  const [top = "", ...rest] = wanted.field.split("/");
  if (["title", "place", "on", "notes"].includes(top)) return { list: "plan" };
  if (top === "policies") return { list: "schools" };
  if (top === "own_figures" || rest[0] === "own_figures") return { list: "figures" };
  const list = (top === "party" ? "party" : rest[0]) as ListName;
  const item = itemsOf(plan, list)[Number(top === "party" ? rest[0] : rest[1])];
  return item ? { list, id: item.id } : null;
}

/** Whether a thing or a page of the shed is the one in view. */
const isOn = (at: Chosen, list: Chosen["list"], id = "") => at.list === list && (!("id" in at) || at.id === id);

export function Shed() {
  const { plan, view } = useSession();
  const wanted = useWanted();
  const [chosen, setChosen] = useState<Chosen | null>(() => chosenBy(plan, wanted));
  // biome-ignore lint/correctness/useExhaustiveDependencies: asked for once, not with every edit
  useEffect(() => {
    if (wanted) setChosen((c) => chosenBy(plan, wanted) ?? c);
  }, [wanted]);
  const first = (plan.shed.ropes ?? []).find((r) => r.kind !== "pull cord");
  const at: Chosen = chosen ?? (first ? { list: "ropes", id: first.id } : { list: "common" });
  return (
    <div className="flex h-full min-h-0 max-sm:flex-col">
      <Things at={at} onPick={setChosen} />
      <div className="min-w-0 grow overflow-y-auto p-5">
        <Detail
          at={at}
          onGone={() => setChosen(null)}
          onPick={(id) => "id" in at && setChosen({ list: at.list, id })}
          length={at.list === "ropes" ? view.assessment.ropes.find((r) => r.id === at.id) : undefined}
        />
      </div>
    </div>
  );
}

const force = (c: { kind: string; low_kn?: number }): N | null =>
  c.kind === "range" ? { value: c.low_kn!, quantity: "force", toward: "down", working: "" } : null;

interface Picked {
  at: Chosen;
  onPick: (c: Chosen) => void;
}

/** All that the shed holds and who goes, by kind, and the plan's own pages. */
function Things({ at, onPick }: Picked) {
  const { plan, edit, view } = useSession();
  const ropes = (plan.shed.ropes ?? []).filter((r) => r.kind !== "pull cord");
  const cords = (plan.shed.ropes ?? []).filter((r) => r.kind === "pull cord");
  const kits = useQuery({ queryKey: ["kits"], queryFn: api.kits, staleTime: Infinity, retry: false }).data ?? [];
  const add = (list: ListName, make: (plan: Plan) => Item) => {
    const item = typically(plan, list, make(plan), kits);
    const path: Path = list === "party" ? ["party"] : ["shed", list];
    edit((p) => setAt(path, [...itemsOf(p, list), item])(p));
    onPick({ list, id: item.id });
  };
  const tables = useQuery({ queryKey: ["tables"], queryFn: api.tables, staleTime: Infinity, retry: false });
  const figure = tables.data
    ?.find((t) => t.name === "materials")
    ?.rows.find((r) => r.key === "webbing.25 mm tubular nylon");
  const lengths = new Map(view.assessment.ropes.map((r) => [r.id, r]));
  const gear = useGear().data;
  /** What a thing's record has against it, in a word or two. */
  const against = (list: ListName, id: string): string => {
    const views = gear?.things
      .find((t) => t.list === list && t.item === id)
      ?.records.map((i) => gear.records[i]?.status);
    if (views?.some((v) => v?.totals.out)) return "retired";
    if (views?.some((v) => v?.rules.some((r) => r.stands === "reached"))) return "to be retired";
    return views?.some((v) => v?.inspection?.stands === "reached" || (v?.totals.damage.length ?? 0) > 0) ? LOOK : "";
  };
  const group = <T extends Item>(
    title: string,
    list: ListName,
    items: readonly T[],
    make: (plan: Plan) => Item,
    aside: (item: T) => N | null,
    before?: (item: T) => ReactNode,
    sub?: (item: T) => string,
  ) => (
    <Group title={title} list={list} onAdd={() => add(list, make)}>
      {items.map((x) => {
        const n = aside(x);
        return (
          <ListRow
            key={x.id}
            on={isOn(at, list, x.id)}
            onClick={() => onPick({ list, id: x.id })}
            name={x.name}
            before={before?.(x)}
            sub={sub?.(x)}
            bad={against(list, x.id)}
            aside={n ? <Num n={{ ...n, working: "" }} /> : <Open />}
          />
        );
      })}
    </Group>
  );
  return (
    <div className="shed-list" role="group" aria-label="shed">
      {group(
        "Ropes",
        "ropes",
        ropes,
        (p) => rope(p, false),
        (r) => lengths.get(r.id)?.low ?? null,
        (r) => (
          <Swatch rope={r} />
        ),
      )}
      {group(
        "Pull cords",
        "ropes",
        cords,
        (p) => rope(p, true),
        (r) => lengths.get(r.id)?.low ?? null,
        (r) => (
          <Swatch rope={r} />
        ),
      )}
      {group(
        "Webbing",
        "webbing",
        plan.shed.webbing ?? [],
        (p) => webbing(p, figure),
        (w) => view.assessment.webbing.find((x) => x.id === w.id)?.stock ?? null,
      )}
      {group("Slings", "slings", plan.shed.slings ?? [], MAKE.slings, (s) => force(s.rating_kn))}
      {group("Rings, links, carabiners", "rings", plan.shed.rings ?? [], MAKE.rings, (r) => force(r.rating_kn))}
      {group("Devices", "devices", plan.shed.devices ?? [], MAKE.devices, (d) => force(d.rating_kn))}
      {group(
        "Tethers",
        "tethers",
        plan.shed.tethers ?? [],
        MAKE.tethers,
        (t) => view.assessment.tethers.find((x) => x.id === t.id)?.low ?? null,
      )}
      {group("Loops for third hands", "loops", plan.shed.loops ?? [], MAKE.loops, (l) =>
        l.length_m.kind === "known"
          ? { value: l.length_m.value, quantity: "fine length", toward: "down", working: "" }
          : null,
      )}
      {group(
        "People",
        "party",
        plan.party ?? [],
        MAKE.party,
        (p) =>
          p.mass_kg.kind === "known" ? { value: p.mass_kg.value, quantity: "mass", toward: "up", working: "" } : null,
        undefined,
        (p) => p.role,
      )}
      {group("Own pull tests", "pull_tests", plan.shed.pull_tests ?? [], MAKE.pull_tests, (t) =>
        lowOf(view.assessment.pull_tests.find((x) => x.id === t.id)),
      )}
      <OfPlan at={at} onPick={onPick} />
    </div>
  );
}

function OfPlan({ at, onPick }: Picked) {
  const { plan } = useSession();
  const own = (plan.own_figures ?? []).length + (plan.shed.own_figures ?? []).length;
  return (
    <Group title="Plan and policy">
      <ListRow on={isOn(at, "common")} onClick={() => onPick({ list: "common" })} name="The common shed" />
      <ListRow on={isOn(at, "plan")} onClick={() => onPick({ list: "plan" })} name="Title, place, date, notes" />
      <ListRow
        on={isOn(at, "schools")}
        onClick={() => onPick({ list: "schools" })}
        name="Schools and margin"
        aside={<span className="quiet">{plan.policies?.margin?.kind ?? "peak"}</span>}
      />
      <ListRow
        on={isOn(at, "figures")}
        onClick={() => onPick({ list: "figures" })}
        name="Own figures"
        aside={<span className="quiet">{own || "none"}</span>}
      />
    </Group>
  );
}

function Open() {
  return <span className="sev-Not-checked text-xs font-semibold">unknown</span>;
}

function Group({
  title,
  list,
  onAdd,
  children,
}: {
  title: string;
  list?: ListName;
  onAdd?: () => void;
  children: ReactNode;
}) {
  return (
    <section className="mb-3" aria-label={title}>
      <div className="flex items-center">
        <h2 className="grow text-[13px] font-bold">{title}</h2>
        {onAdd && (
          <button
            type="button"
            className="act plain px-1.5"
            aria-label={`add to ${title}`}
            data-path={list === "party" ? list : `shed/${list}`}
            onClick={onAdd}
          >
            <Plus size={14} className="inline" /> add
          </button>
        )}
      </div>
      {children}
    </section>
  );
}

function ListRow({
  on,
  onClick,
  name,
  sub,
  bad,
  aside,
  before,
}: {
  on: boolean;
  onClick: () => void;
  name: string;
  sub?: string | undefined;
  bad?: string;
  aside?: ReactNode;
  before?: ReactNode;
}) {
  return (
    <button type="button" aria-current={on || undefined} onClick={onClick} className={`shed-row ${on ? "on" : ""}`}>
      {before}
      <span className="min-w-0 grow truncate" title={name}>
        {name} {sub && <span className="quiet text-xs">{sub}</span>}
        {bad && (
          <span className={`block text-xs font-semibold ${bad === LOOK ? "sev-Not-checked" : "sev-Shortfall"}`}>
            {bad}
          </span>
        )}
      </span>
      {aside}
    </button>
  );
}

/** A tie round a post names webbing or a sling: an id is neither's twice. */
const sameIds = (plan: Plan, list: ListName) =>
  list === "webbing" ? (plan.shed.slings ?? []) : list === "slings" ? (plan.shed.webbing ?? []) : [];

const TYPICAL_LISTS = ["ropes", "webbing", "slings", "rings", "devices", "tethers", "loops", "party"] as const;

/** Says that typical figures are as one's own, of this thing and of others that are ticked; each stands by itself. */
function AsMine({ item, path }: { item: Item; path: Path }) {
  const { plan, edit } = useSession();
  const [also, setAlso] = useState<readonly string[]>([]);
  const others = TYPICAL_LISTS.flatMap((list) =>
    itemsOf(plan, list)
      .filter((x) => "typical" in x && x.typical === true && x.id !== item.id)
      .map((x) => {
        const at: Path = list === "party" ? ["party", `#${x.id}`] : ["shed", list, `#${x.id}`];
        return { key: at.join("/"), name: x.name, at };
      }),
  );
  const ticked = others.filter((o) => also.includes(o.key));
  return (
    <div className="rule-t rule-b mb-3 py-2">
      <p className="flex items-center gap-3">
        <span className="sev-Not-checked grow font-semibold">Typical figures: nobody has looked at yours.</span>
        <button
          type="button"
          className="act"
          onClick={() => edit(...[path, ...ticked.map((o) => o.at)].map((at) => setAt([...at, "typical"], false)))}
        >
          {ticked.length ? `These ${ticked.length + 1} are as mine` : "They are as mine"}
        </button>
      </p>
      {others.length > 0 && (
        <details className="text-[13px]">
          <summary className="quiet cursor-pointer">{others.length} others have typical figures too</summary>
          <ul aria-label="others with typical figures" className="grid grid-cols-2 gap-x-4">
            {others.map((o) => (
              <li key={o.key}>
                <label className="flex min-h-7 items-center gap-1.5">
                  <input
                    type="checkbox"
                    className="size-4 accent-[var(--color-accent)]"
                    checked={also.includes(o.key)}
                    onChange={() => setAlso(also.includes(o.key) ? also.filter((k) => k !== o.key) : [...also, o.key])}
                  />
                  {o.name}
                </label>
              </li>
            ))}
          </ul>
        </details>
      )}
    </div>
  );
}

function Detail({
  at,
  onGone,
  onPick,
  length,
}: {
  at: Chosen;
  onGone: () => void;
  onPick: (id: string) => void;
  length: RopeAssessment | undefined;
}) {
  const { plan, edit, tell } = useSession();
  if (!("id" in at)) {
    return at.list === "schools" ? (
      <Schools />
    ) : at.list === "plan" ? (
      <About />
    ) : at.list === "figures" ? (
      <OwnFigures />
    ) : (
      <CommonShed />
    );
  }
  const root: Path = at.list === "party" ? ["party"] : ["shed", at.list];
  const item = itemsOf(plan, at.list).find((x) => x.id === at.id);
  if (!item) return <p className="quiet">Choose something on the left, or add to a list.</p>;
  const path: Path = [...root, `#${item.id}`];
  const remove = () => {
    edit((p) =>
      setAt(
        root,
        itemsOf(p, at.list).filter((x) => x.id !== item.id),
      )(p),
    );
    const users = usersOf(plan, item.id).filter((name) => name !== item.name);
    const used = users.length ? `, used by ${users.join(", ")}` : "";
    tell({ text: `${item.name} removed${used}`, where: null, offer: "undo" });
    onGone();
  };
  const duplicate = () => {
    const all = itemsOf(plan, at.list);
    const twin = { ...item, id: freshId(item.id.replace(/\d+$/, ""), [...all, ...sameIds(plan, at.list)]) };
    // The twin's figures are the other's until somebody has looked at this one.
    const marked = "typical" in twin ? { typical: true } : {};
    edit((p) => setAt(root, [...itemsOf(p, at.list), { ...twin, ...marked, name: freshName(item.name, all) }])(p));
    onPick(twin.id);
  };
  return (
    <div className="max-w-2xl">
      {"typical" in item && item.typical === true && <AsMine key={item.id} item={item} path={path} />}
      <div className="mb-3 flex flex-wrap items-end gap-x-4">
        <TextField label="name" path={[...path, "name"]} value={item.name} className="w-64" />
        <span className="grow" />
        <button type="button" className="act plain" onClick={duplicate}>
          <Copy size={14} className="inline" /> Duplicate
        </button>
        <button type="button" className="act plain sev-Shortfall" onClick={remove} title="Undo brings it back">
          <Trash2 size={14} className="inline" /> Remove
        </button>
      </div>
      {at.list === "ropes" && <RopeForm r={item as Rope} path={path} length={length} />}
      {at.list === "webbing" && <WebbingForm w={item as Webbing} path={path} />}
      {at.list === "slings" && <SlingForm s={item as Sling} path={path} />}
      {at.list === "rings" && <RingForm r={item as Ring} path={path} />}
      {at.list === "devices" && <DeviceForm d={item as Device} path={path} />}
      {at.list === "tethers" && <TetherForm t={item as Tether} path={path} />}
      {at.list === "loops" && <LoopForm l={item as Loop} path={path} />}
      {"mass_kg" in item && at.list !== "party" && (
        <FigureField
          className="mt-3 w-64"
          label="what it weighs"
          path={[...path, "mass_kg"]}
          figure={(item as Ring).mass_kg!}
          quantity="weight"
          why="not weighed"
        />
      )}
      {at.list === "pull_tests" && <PullTestForm t={item as PullTest} path={path} />}
      {at.list === "party" && <PersonForm p={item as Person} path={path} />}
      {at.list !== "pull_tests" && at.list !== "party" && (
        <Record key={`${at.list} ${item.id}`} list={at.list} item={item} />
      )}
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
