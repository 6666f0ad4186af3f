// A bar for each station against the daylight, both ends of the range drawn; where to have turned round.
import { useSession } from "../../state/plan";
import { Num } from "../../ui/Num";
import { duration } from "./marks";

export function Times() {
  const { view } = useSession();
  const { times } = view.assessment.descent;
  const start = times.start ?? 0;
  const end = times.total ? start + times.total[1].value : start + 60;
  const { light } = times;
  const known = light.kind === "day";
  const from = Math.min(start, known && light.first !== null ? light.first : start) - 30;
  const to = Math.max(end, known && light.last !== null ? light.last : end, times.last_light ?? end) + 40;
  const at = (m: number) => `${((m - from) / (to - from)) * 100}%`;
  const clock = (m: number) =>
    `${String(Math.floor(m / 60) % 24).padStart(2, "0")}:${String(Math.round(m) % 60).padStart(2, "0")}`;
  const step = to - from > 18 * 60 ? 180 : to - from > 8 * 60 ? 120 : 60;
  const hours = Array.from(
    { length: Math.ceil((to - from) / step) },
    (_, i) => (Math.ceil(from / step) + i) * step,
  ).filter((h) => h < to);
  return (
    <div className="max-w-4xl">
      <h2 className="text-base font-bold">
        {times.out_at
          ? `Out ${times.out_at.join(" to ")}`
          : times.total
            ? `${duration(times.total[0].value)} to ${duration(times.total[1].value)} hours in all`
            : "How long it takes is not known"}
      </h2>
      <p className="quiet text-[13px]">
        {times.words.join(" ")}
        {times.last_light_at && ` Out by ${times.last_light_at}, ${times.last_light_is}.`}
        {times.latest_start_at && ` Latest start that is out by then at the late end: ${times.latest_start_at}.`}
        {(times.contradicts[0] || light.why) && ` Daylight is not checked: ${times.contradicts[0] || light.why}.`}
      </p>
      <p className="quiet mb-3 text-xs">
        Assumptions until a log says otherwise: each is a row of the table of times, and may be replaced by a figure of
        your own.
      </p>
      <div className="grid grid-cols-[150px_1fr_150px] text-[13px]">
        <span />
        <div className="relative h-5">
          {hours.map((h) => (
            <span key={h} className="quiet absolute -translate-x-1/2 text-[11px]" style={{ left: at(h) }}>
              {times.start === null ? `+${duration(h - start)}` : clock(h)}
            </span>
          ))}
        </div>
        <span className="quiet pl-3 text-xs">pull by, at the latest</span>
        {times.stations.map((s) => {
          const name = view.assessment.drops.find((d) => d.id === s.drop)?.name ?? "";
          return (
            <div key={s.drop} className="contents">
              <span className="truncate py-1.5">
                <b>{s.number}</b> {name}
              </span>
              <div className="relative my-0.5 h-8 bg-base-200">
                {known && light.first !== null && (
                  <span
                    className="absolute inset-y-0 left-0 bg-[var(--rock)] opacity-60"
                    style={{ width: at(Math.max(from, light.first)) }}
                  />
                )}
                {known && light.last !== null && (
                  <span
                    className="absolute inset-y-0 bg-[var(--rock)] opacity-60"
                    style={{
                      left: at(Math.min(to, light.last)),
                      right: `calc(100% - ${at(Math.min(to, light.next_first ?? to))})`,
                    }}
                  />
                )}
                {hours.map((h) => (
                  <span key={h} className="absolute inset-y-0 w-px bg-[var(--rule)]" style={{ left: at(h) }} />
                ))}
                {s.arrive && s.out && (
                  <>
                    <span
                      className="absolute top-1 h-3 bg-[var(--bar)]"
                      style={{
                        left: at(start + s.arrive[0].value),
                        width: `calc(${at(start + s.out[0].value)} - ${at(start + s.arrive[0].value)})`,
                      }}
                      title="early end"
                    />
                    <span
                      className="absolute bottom-1 h-3 border border-[var(--bar)] bg-[var(--bar-rest)]"
                      style={{
                        left: at(start + s.arrive[1].value),
                        width: `calc(${at(start + s.out[1].value)} - ${at(start + s.arrive[1].value)})`,
                      }}
                      title="late end"
                    />
                  </>
                )}
                {s.turn_round && (
                  <span
                    className="absolute inset-y-0 w-0.5 bg-accent"
                    style={{ left: at(Math.min(to, Math.max(from, s.turn_round.value))) }}
                    title="the pull begins by then"
                  />
                )}
                {!s.out && (
                  <span className="sev-Not-checked absolute top-1.5 left-2 font-semibold">not checked: {s.why}</span>
                )}
              </div>
              <span className="py-1.5 pl-3 tabular-nums">
                {s.turn_round_at || <span className="quiet">–</span>}
                {s.ride && (
                  <span className="quiet ml-3 text-xs">
                    ride <Num n={s.ride[0]} className="font-normal" />
                  </span>
                )}
              </span>
            </div>
          );
        })}
      </div>
      <p className="quiet mt-2 text-xs">
        Dark bar: the early end; light bar: the late end; the grey is night; the upright mark: when the pull must have
        begun for all after it to end before last light.
      </p>
    </div>
  );
}
