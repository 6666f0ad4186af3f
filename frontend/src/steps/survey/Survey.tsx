// Survey: the section of one drop, in five figures or as shots, with how each was measured; and what is at the bottom.

import { useMutation } from "@tanstack/react-query";
import { Plus, Trash2 } from "lucide-react";
import { api } from "../../api/client";
import { Cutaway } from "../../cutaway/Cutaway";
import { groundAs } from "../../state/copied";
import { freshId, known, setAt, unknown } from "../../state/edits";
import type { Drop, DropAssessment, Quick, Shots } from "../../state/model";
import { useFieldError, useSession } from "../../state/plan";
import { HANG, ROCK, SHARPNESS } from "../../ui/choices";
import { DropActs } from "../../ui/Frame";
import { ChoiceField, Choose, DateField, FigureField, type Path, SurveyField, TextField } from "../../ui/fields";
import { PositionField } from "./PositionField";
import { Shooting } from "./Shooting";
import { WatchField } from "./WatchField";

const LANDINGS = [
  { value: "ledge", label: "ledge" },
  { value: "ground", label: "ground" },
  { value: "pool", label: "still pool" },
  { value: "wading", label: "wading water" },
  { value: "moving water", label: "moving water" },
  { value: "hanging stance", label: "hanging stance" },
  { value: "unknown", label: "unknown" },
];

const FACES = [
  { value: "as the drop", label: "as the drop" },
  { value: "smooth", label: "smooth" },
  { value: "coarse", label: "coarse" },
];

const BLANK_QUICK: Quick = {
  kind: "quick",
  setback_m: unknown("not measured"),
  edge_fall_m: known(0, "eye"),
  height_m: unknown("not measured"),
  face_deg: known(90, "given"),
  recess_m: known(0, "eye"),
  edge: "unknown",
  padded: false,
  face: "as the drop",
};

export function Survey({ drop, index, a }: { drop: Drop; index: number; a: DropAssessment }) {
  const { edit, plan } = useSession();
  const before = plan.drops?.[index - 1];
  const at: Path = ["drops", `#${drop.id}`];
  const section = drop.section;
  const whole = useFieldError(at);
  const shots = useMutation({
    mutationFn: api.sectionAsShots,
    onSuccess: (made) => edit(setAt([...at, "section"], made)),
  });
  return (
    <div className="flex h-full flex-col">
      <div className="min-h-0 grow">
        <Cutaway a={a} drop={drop} index={index} />
      </div>
      <div className="lower-panel h-[286px] max-h-[56%] !block overflow-y-auto px-4 py-3">
        <div className="mb-2 flex flex-wrap items-end gap-3">
          <TextField label="name of the drop" path={[...at, "name"]} value={drop.name} className="w-44" />
          <ChoiceField
            label="landing"
            path={[...at, "landing", "kind"]}
            value={drop.landing.kind}
            choices={LANDINGS}
            className="w-36"
          />
          <ChoiceField
            label="the rig gets wet"
            path={[...at, "station", "wet"]}
            value={drop.station.wet ?? "unknown"}
            choices={["yes", "no", "unknown"]}
            className="w-32"
          />
          <Choose
            label="section entered"
            className="w-40"
            value={section.kind}
            choices={[
              { value: "quick", label: "in five figures" },
              { value: "shots", label: "as shots" },
            ]}
            onChange={(k) => {
              if (k === "shots" && section.kind === "quick") shots.mutate(section);
              else edit(setAt([...at, "section"], BLANK_QUICK));
            }}
          />
          {before && (
            <button
              type="button"
              className="act plain"
              title={`rock, edges, cracks, wet and how the strands hang: as at ${before.name}`}
              onClick={() => edit(groundAs(drop, before))}
            >
              Ground as before
            </button>
          )}
          <span className="grow" />
          <DropActs drop={drop} index={index} />
        </div>
        <div className="mb-2 grid grid-cols-4 gap-x-4 gap-y-2">
          <ChoiceField
            label="strands hang below the ring"
            path={[...at, "station", "strands_hang"]}
            value={drop.station.strands_hang ?? "unknown"}
            choices={HANG}
          />
          <ChoiceField
            label="cracks or flakes under the line"
            path={[...at, "cracks"]}
            value={drop.cracks ?? "unknown"}
            choices={["no", "yes", "unknown"]}
          />
          <ChoiceField
            label="rock under the rope"
            path={[...at, "rock"]}
            value={drop.rock ?? "unknown"}
            choices={ROCK}
          />
          <SurveyField
            label="landing off to the side"
            path={[...at, "landing", "aside_m"]}
            figure={drop.landing.aside_m ?? known(0, "eye")}
            quantity="length"
            why="not measured"
          />
          <FigureField
            label="people who can stand at the landing"
            path={[...at, "landing", "room"]}
            figure={drop.landing.room ?? unknown("not counted")}
            quantity="count"
            why="not counted"
          />
          {drop.landing.kind === "hanging stance" && (
            <SurveyField
              label="next station, from where one hangs"
              path={[...at, "landing", "next_m"]}
              figure={drop.landing.next_m ?? unknown("not measured")}
              quantity="fine length"
              why="not measured"
            />
          )}
        </div>
        {section.kind === "quick" ? (
          <QuickForm s={section} at={[...at, "section"]} />
        ) : (
          <>
            <Shooting key={drop.id} dropId={drop.id} at={[...at, "section", "shots"]} />
            <ShotsForm s={section} at={[...at, "section"]} />
          </>
        )}
        <WatchField path={[...at, "watch"]} value={drop.watch} />
        <PositionField path={[...at, "position"]} value={drop.position} />
        <TextField label="notes on this drop" path={[...at, "notes"]} value={drop.notes ?? ""} className="mt-2" />
        {shots.error && (
          <p role="alert" className="sev-Shortfall mb-2">
            {shots.error.message}
          </p>
        )}
        {whole && (
          <p role="alert" className="sev-Shortfall mt-1 text-xs">
            {whole}
          </p>
        )}
      </div>
    </div>
  );
}

function QuickForm({ s, at }: { s: Quick; at: Path }) {
  return (
    <div className="grid grid-cols-3 gap-x-4 gap-y-2">
      <SurveyField
        label="set-back, anchor to edge"
        path={[...at, "setback_m"]}
        figure={s.setback_m}
        quantity="length"
        why="not measured"
      />
      <SurveyField
        label="height, edge to landing"
        path={[...at, "height_m"]}
        figure={s.height_m}
        quantity="length"
        why="not measured"
      />
      {s.height_m.kind === "known" && (
        <>
          <DateField label="height measured on" path={[...at, "height_m", "on"]} value={s.height_m.on ?? null} />
          <TextField label="height measured by" path={[...at, "height_m", "by"]} value={s.height_m.by ?? ""} />
        </>
      )}
      <SurveyField
        label="ground falls, ring to edge"
        path={[...at, "edge_fall_m"]}
        figure={s.edge_fall_m}
        quantity="length"
        why="not measured"
      />
      <FigureField
        label="face angle, 90° is plumb"
        path={[...at, "face_deg"]}
        figure={s.face_deg}
        quantity="degrees"
        why="not measured"
      />
      <SurveyField
        label="overhang, landing back under the edge"
        path={[...at, "recess_m"]}
        figure={s.recess_m}
        quantity="length"
        why="not measured"
      />
      <ChoiceField label="the edge is" path={[...at, "edge"]} value={s.edge ?? "unknown"} choices={SHARPNESS} />
      <ChoiceField label="the wall's rock" path={[...at, "face"]} value={s.face ?? "as the drop"} choices={FACES} />
      <Pad at={at} padded={s.padded ?? false} label="a pad lies on the edge under the rope" />
    </div>
  );
}

/** Textile on an edge: it rubs as textile, and somebody must bring it down. */
function Pad({ at, padded, label }: { at: Path; padded: boolean; label: string }) {
  const { edit } = useSession();
  return (
    <label className="tick-in-table">
      <input
        type="checkbox"
        className="size-4 accent-[var(--color-accent)]"
        aria-label={label}
        checked={padded}
        onChange={(e) => edit(setAt([...at, "padded"], e.target.checked))}
      />
      <span className="[[data-bare]_&]:hidden">{label}</span>
    </label>
  );
}

function ShotsForm({ s, at }: { s: Shots; at: Path }) {
  const { edit } = useSession();
  const shots = s.shots;
  const add = () =>
    edit(
      setAt(
        [...at, "shots"],
        [
          ...shots,
          {
            id: freshId("s", shots),
            slope_m: unknown("not measured"),
            incl_deg: unknown("not measured"),
            edge: "unknown",
            padded: false,
            face: "as the drop",
          },
        ],
      ),
    );
  const remove = (id: string) =>
    edit(
      setAt(
        [...at, "shots"],
        shots.filter((x) => x.id !== id),
      ),
    );
  return (
    <div>
      <div className="quiet grid grid-cols-[1.6rem_12rem_5.4rem_6.4rem_1.8rem_6.6rem_1.8rem] gap-x-2 text-xs">
        <span>shot</span>
        <span>slope distance, measured by</span>
        <span>inclination</span>
        <span>rock at its end</span>
        <span>pad</span>
        <span>rock it runs over</span>
        <span />
      </div>
      {shots.map((shot, i) => (
        <div
          key={shot.id}
          className="grid grid-cols-[1.6rem_12rem_5.4rem_6.4rem_1.8rem_6.6rem_1.8rem] items-center gap-x-2 py-0.5"
        >
          <span className="num">{i + 1}</span>
          <Bare>
            <SurveyField
              label={`shot ${i + 1}, slope distance`}
              path={[...at, "shots", `#${shot.id}`, "slope_m"]}
              figure={shot.slope_m}
              quantity="length"
              why="not measured"
            />
          </Bare>
          <Bare>
            <FigureField
              label={`shot ${i + 1}, inclination`}
              path={[...at, "shots", `#${shot.id}`, "incl_deg"]}
              figure={shot.incl_deg}
              quantity="degrees"
              why="not measured"
            />
          </Bare>
          <Bare>
            <ChoiceField
              label={`shot ${i + 1}, rock at its end`}
              path={[...at, "shots", `#${shot.id}`, "edge"]}
              value={shot.edge ?? "unknown"}
              choices={SHARPNESS}
            />
          </Bare>
          <span data-bare>
            <Pad
              at={[...at, "shots", `#${shot.id}`]}
              padded={shot.padded ?? false}
              label={`shot ${i + 1}, a pad lies at its end`}
            />
          </span>
          <Bare>
            <ChoiceField
              label={`shot ${i + 1}, rock it runs over`}
              path={[...at, "shots", `#${shot.id}`, "face"]}
              value={shot.face ?? "as the drop"}
              choices={FACES}
            />
          </Bare>
          <button
            type="button"
            className="act plain px-1"
            aria-label={`remove shot ${i + 1}`}
            disabled={shots.length === 1}
            onClick={() => remove(shot.id)}
          >
            <Trash2 size={15} />
          </button>
        </div>
      ))}
      <div className="mt-1 flex items-center gap-3">
        <button type="button" className="act" onClick={add}>
          <Plus size={14} className="inline" /> Shot
        </button>
        <span className="quiet text-xs">
          From the tie to the landing, in order. −90° is plumb down; past it, −97° for instance, the rock leans back
          under.
        </span>
      </div>
      <ChoiceField
        className="mt-2 w-64"
        label="rock where the first shot starts, if the rope does"
        path={[...at, "first_edge"]}
        value={s.first_edge ?? "unknown"}
        choices={SHARPNESS}
      />
    </div>
  );
}

/** A field in a table whose heading stands in for its label. */
function Bare({ children }: { children: React.ReactNode }) {
  return <div className="[&_span.block]:hidden [&_span[role=alert]]:!block">{children}</div>;
}
