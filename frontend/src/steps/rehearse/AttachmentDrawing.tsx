// A person's attachment at the harness, to scale: belay loop, where the third hand is clipped, its reach, the device.
// The device and the loop have handles; what is shown while they move is the core's answer for that place.
import { useQuery } from "@tanstack/react-query";
import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import { api } from "../../api/client";
import type { Grip } from "../../api/types.gen";
import { spoken } from "../../say";
import { known, setAt } from "../../state/edits";
import type { Drop } from "../../state/model";
import { useSession } from "../../state/plan";
import { usePrefs } from "../../state/prefs";
import { useGoing } from "../../state/rehearsal";
import { sameBefore } from "../../state/same";
import { Said } from "../../ui/Num";

const WIDTH = 230;
const HEIGHT = 236;
const STANDS: Readonly<Record<string, string>> = {
  fits: "stays clear of the device",
  reaches: "reaches the device: it cannot grip",
  "too short": "is too short for its wraps",
  slips: "does not grip",
  unknown: "is not checked",
  none: "is not entered",
};

const TONES: Readonly<Record<string, string>> = {
  fits: "",
  reaches: "sev-Shortfall font-semibold",
  "too short": "sev-Shortfall font-semibold",
  slips: "sev-Shortfall font-semibold",
  unknown: "sev-Not-checked",
  none: "sev-Not-checked",
};

interface Places {
  device: number;
  laid: number;
}

/** Where device and loop are, as they are moved or as they are entered; either may be unknown. */
function useMoved(who: string) {
  const { plan, edit } = useSession();
  const person = plan.party.find((p) => p.id === who);
  const loop = (plan.shed.loops ?? []).find((l) => l.id === person?.hitch?.loop);
  const device = person?.attachment?.device_m.kind === "known" ? person.attachment.device_m.value : null;
  const laid = loop?.length_m.kind === "known" ? loop.length_m.value : null;
  const [moving, setMoving] = useState<Places | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: once it is saved the plan is shown again
  useEffect(() => setMoving(null), [who, device, laid]);
  const save = (now: Places) => {
    if (now.device !== device) edit(setAt(["party", `#${who}`, "attachment", "device_m"], known(now.device, "eye")));
    if (now.laid !== laid && loop) edit(setAt(["shed", "loops", `#${loop.id}`, "length_m"], known(now.laid, "eye")));
  };
  const movable = device !== null && laid !== null && Boolean(person?.hitch);
  return { person, movable, moving, setMoving, at: moving ?? { device: device ?? 0, laid: laid ?? 0 }, save };
}
type Moved = ReturnType<typeof useMoved>;

export function AttachmentDrawing({ drop, who }: { drop: Drop; who: string }) {
  const { view } = useSession();
  const { units } = usePrefs();
  const { whole, behind, k } = useGoing();
  const moved = useMoved(who);
  const { person, movable, at } = moved;
  const key = ["grip", view.id, view.rests, drop.id, who, at.device, at.laid];
  const query = useQuery<Grip>({
    queryKey: key,
    queryFn: () => api.grip(view.id, view.revision, drop.id, who, at.device, at.laid),
    staleTime: Infinity,
    retry: false,
    enabled: movable,
    placeholderData: sameBefore(key, 2),
  });
  const told = whole?.people.find((p) => p.who === who);
  const grip = movable ? (query.data ?? null) : (told?.grips[k] ?? null);
  if (!person) return null;
  const stand = grip?.stand ?? "unknown";
  return (
    <section aria-label="attachment" className="grid grid-cols-[230px_1fr] gap-x-4" data-own-keys>
      <h3 className="col-span-2 font-semibold">{person.name} at the harness</h3>
      {grip?.device ? (
        <Harness name={person.name} grip={grip} moved={moved} />
      ) : (
        <p className="quiet my-2 text-[12.5px]">Drawn once device, loop and strands are known.</p>
      )}
      <div className="space-y-1" aria-busy={behind}>
        <p className={`text-[12.5px] ${TONES[stand]}`} data-testid="grip" aria-live="polite">
          The third hand {STANDS[stand]}
          {grip?.clear && stand !== "unknown" ? `: ${spoken(grip.clear, units)} to the device` : ""}
          {grip?.why ? `: ${grip.why}` : ""}.
          {grip && stand !== "fits" && grip.wraps ? ` With ${grip.wraps} wraps it fits.` : ""}
        </p>
        {told?.knot_high && (
          <p className="sev-Caution text-[12.5px]">The knot for the device sits above half of the sling.</p>
        )}
        {told?.advice.map((s, i) => (
          <p key={i} className="text-[12.5px]">
            <Said s={s} />
          </p>
        ))}
        <Link className="text-[12.5px] underline" to={`/plans/${view.id}/shed`}>
          kit and figures of this person: Shed
        </Link>
      </div>
    </section>
  );
}

const round = (v: number, low: number, high: number) => Math.round(Math.min(high, Math.max(low, v)) * 100) / 100;

/** The harness to scale, with handles on device and loop. */
function Harness({ name, grip, moved: { at, moving, setMoving, save } }: { name: string; grip: Grip; moved: Moved }) {
  const { units } = usePrefs();
  const pull = useRef<{ of: keyof Places; y: number; was: number } | null>(null);
  const most = Math.max(0.75, at.device + 0.15, grip.top?.value ?? 0);
  const scale = (HEIGHT - 60) / (most + 0.25);
  const y = (m: number) => HEIGHT - 22 - (m + 0.22) * scale;
  const moved = (of: keyof Places, v: number) => ({
    ...at,
    [of]: of === "device" ? round(v, 0, 2) : round(v, 0.1, 2),
  });
  const keys = (of: keyof Places) => (e: KeyboardEvent) => {
    const by = e.key === "ArrowUp" ? 1 : e.key === "ArrowDown" ? -1 : 0;
    if (by === 0) return;
    e.preventDefault();
    const now = moved(of, at[of] + by * (e.shiftKey ? 0.1 : 0.01));
    setMoving(now);
    save(now);
  };
  const pointer = (of: keyof Places) => ({
    onPointerDown: (e: PointerEvent<SVGGElement>) => {
      e.currentTarget.setPointerCapture(e.pointerId);
      pull.current = { of, y: e.clientY, was: at[of] };
    },
    onPointerMove: (e: PointerEvent<SVGGElement>) => {
      const p = pull.current;
      if (p?.of !== of) return;
      // The loop hangs half as deep as it is laid long.
      setMoving(moved(of, p.was + ((p.y - e.clientY) / scale) * (of === "laid" ? 2 : 1)));
    },
    onPointerUp: () => {
      const p = pull.current;
      pull.current = null;
      if (p && moving) save(moving);
    },
    onPointerCancel: () => {
      pull.current = null;
      setMoving(null);
    },
  });
  const clipped = grip.clipped?.value ?? 0;
  const top = grip.top?.value ?? null;
  const x = 96;
  return (
    <svg width={WIDTH} height={HEIGHT} role="group" aria-label={`attachment of ${name}, to scale`}>
      <path d={`M${x} 4V${HEIGHT - 4}m8 0V4`} stroke="var(--bar)" strokeWidth={3.4} />
      <path
        d={`M${x - 50} ${y(0) + 10}q54 26 108 0`}
        fill="none"
        stroke="var(--wood)"
        strokeWidth={8}
        strokeLinecap="round"
      />
      <path
        d={`M${x - 2} ${y(0) + 18}q6 -30 12 0`}
        fill="none"
        stroke="var(--color-base-content)"
        strokeWidth={3}
        role="img"
        aria-label="belay loop"
      />
      <path d={`M${x + 4} ${y(0)}V${y(at.device)}`} stroke="var(--tether)" strokeWidth={3.4} />
      {top !== null && (
        <g stroke="var(--hitch)" fill="none" role="img" aria-label="third hand">
          <path
            d={`M${x - 20} ${y(clipped)}Q${x - 34} ${(y(clipped) + y(top)) / 2} ${x - 4} ${y(top) + 10}`}
            strokeWidth={2.4}
          />
          {[0, 5, 10].map((d) => (
            <path key={d} d={`M${x - 7} ${y(top) + d}q11 5 22 0`} strokeWidth={3} />
          ))}
          <path d={`M${x - 40} ${y(top)}h72`} strokeWidth={1} strokeDasharray="3 3" />
        </g>
      )}
      <circle
        cx={x - 20}
        cy={y(clipped)}
        r={4.5}
        fill="var(--color-base-100)"
        stroke="var(--color-base-content)"
        strokeWidth={2}
        role="img"
        aria-label="where the third hand is clipped"
      />
      <Handle
        label="device, its lower edge above the belay loop"
        value={at.device}
        {...pointer("device")}
        onKeyDown={keys("device")}
      >
        <rect x={x - 8} y={y(at.device) - 20} width={24} height={20} rx={4} fill="var(--color-base-content)" />
      </Handle>
      {top !== null && (
        <Handle label="loop, laid length" value={at.laid} {...pointer("laid")} onKeyDown={keys("laid")}>
          <circle
            cx={x - 23}
            cy={(y(clipped) + y(top)) / 2}
            r={6}
            fill="var(--hitch)"
            stroke="var(--color-base-100)"
            strokeWidth={1.5}
          />
        </Handle>
      )}
      <g fontSize={11.5} fill="var(--color-base-content)">
        <text x={x + 26} y={y(at.device) - 4}>
          device {spoken({ value: at.device, quantity: "fine length", toward: "near", working: "" }, units)}
        </text>
        {grip.top && top !== null && (
          <text x={x + 36} y={Math.max(y(top) + 13, y(at.device) + 11)}>
            hitch to {spoken(grip.top, units)}
          </text>
        )}
        <text x={2} y={HEIGHT - 4} fill="var(--quiet)">
          loop {spoken({ value: at.laid, quantity: "fine length", toward: "near", working: "" }, units)} laid
        </text>
      </g>
    </svg>
  );
}

function Handle({
  label,
  value,
  children,
  ...on
}: {
  label: string;
  value: number;
  children: React.ReactNode;
  onPointerDown: (e: PointerEvent<SVGGElement>) => void;
  onPointerMove: (e: PointerEvent<SVGGElement>) => void;
  onPointerUp: () => void;
  onPointerCancel: () => void;
  onKeyDown: (e: KeyboardEvent) => void;
}) {
  return (
    <g
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-valuenow={value}
      aria-valuetext={`${value} m; arrows move it 0.01 m, with Shift 0.1 m`}
      className="slide-handle"
      {...on}
    >
      {children}
    </g>
  );
}
