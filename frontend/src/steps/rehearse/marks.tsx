// The marks of the rehearsal: people, ends, ropes in a bag and on the ground.
import type { Person, Point } from "../../state/model";
import { MARK, type Stood } from "./people";

export function End({
  at,
  stopper,
  planned,
  colour,
}: {
  at: Point;
  stopper: boolean;
  planned: boolean;
  colour: string;
}) {
  if (stopper)
    return (
      <circle
        cx={at[0]}
        cy={at[1]}
        r={4.6}
        fill={colour}
        stroke="var(--color-base-content)"
        strokeWidth={1.5}
        role="img"
        aria-label="stopper"
      />
    );
  return (
    <circle
      cx={at[0]}
      cy={at[1]}
      r={4.4}
      fill="var(--color-base-100)"
      stroke={planned ? "var(--color-error)" : "var(--color-base-content)"}
      strokeWidth={1.8}
      role="img"
      aria-label="open end"
    />
  );
}

export function Bag({ at, colour }: { at: Point; colour: string }) {
  return (
    <path
      d={`M${at[0] - 8} ${at[1] - 16}h14l3 17h-20z`}
      fill={colour}
      fillOpacity={0.6}
      stroke="var(--color-base-content)"
      strokeWidth={1.4}
      role="img"
      aria-label="rope bag"
    />
  );
}

export function Coil({ at, colour }: { at: Point; colour: string }) {
  return (
    <g fill="none" stroke={colour} strokeWidth={2.6} role="img" aria-label="rope on the landing">
      <ellipse cx={at[0]} cy={at[1]} rx={9} ry={4} />
      <ellipse cx={at[0] + 3} cy={at[1] - 2.4} rx={9} ry={4} />
    </g>
  );
}

/** A person: initial, and the role in the rim: a guide has a double one, a second guide a broken second one. */
export function Mark({
  s,
  person,
  letters,
  on,
}: {
  s: Stood;
  person: Person | undefined;
  letters: string;
  on: boolean;
}) {
  const role = person?.role ?? "novice";
  return (
    <g className="person" style={{ transform: `translate(${s.at[0]}px, ${s.at[1]}px)` }} data-person={s.p.who}>
      <title>{`${person?.name ?? ""}, ${role}`}</title>
      {on && <circle r={MARK + 5} fill="none" stroke="var(--color-accent)" strokeWidth={2.4} />}
      <RoleMark role={role} letters={letters} faint={s.p.place === "landing" && !s.p.exposed} />
    </g>
  );
}

export function RoleMark({ role, letters, faint = false }: { role: string; letters: string; faint?: boolean }) {
  return (
    <g>
      <circle
        r={MARK}
        fill={faint ? "var(--color-base-200)" : "var(--color-base-100)"}
        stroke="var(--color-base-content)"
        strokeWidth={2.2}
      />
      {(role === "guide" || role === "second guide") && (
        <circle
          r={MARK - 3.4}
          fill="none"
          stroke="var(--color-base-content)"
          strokeWidth={1.1}
          strokeDasharray={role === "guide" ? undefined : "3 2.4"}
        />
      )}
      {role === "able" && <path d={`M-4 ${MARK}h8`} stroke="var(--color-base-content)" strokeWidth={4.4} />}
      <text
        textAnchor="middle"
        y={4.4}
        fontSize={letters.length > 1 ? 10 : 12.5}
        fontWeight={700}
        fill="var(--color-base-content)"
      >
        {letters}
      </text>
    </g>
  );
}
