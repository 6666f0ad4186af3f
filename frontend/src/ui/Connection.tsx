// One line that says how an instrument stands, with the port it is on and the act that connects or leaves it.
import { useState } from "react";
import type { DeviceKind, Instrument } from "../state/devices";
import { Labelled } from "./fields";

const PORTS: Record<DeviceKind, number> = { rangefinder: 8431, "load-cell": 8432, gauge: 8433 };
const BAD = { connecting: "quiet", connected: "", silent: "sev-Caution", ended: "sev-Caution", none: "quiet" };

export function Connection({ kind, of }: { kind: DeviceKind; of: Instrument }) {
  const { view, refused } = of;
  const [port, setPort] = useState(String(PORTS[kind]));
  const on = view?.state === "connected" || view?.state === "silent" || view?.state === "connecting";
  return (
    <div className="flex flex-wrap items-end gap-2">
      {!on && (
        <>
          <Labelled label="port on this machine" className="w-32">
            <input
              className="field num w-full text-right"
              inputMode="numeric"
              aria-label={`port of the ${kind.replace("-", " ")}`}
              value={port}
              onChange={(e) => setPort(e.target.value)}
            />
          </Labelled>
          <button type="button" className="act" onClick={() => of.connect(Number(port) || 0)}>
            Connect
          </button>
        </>
      )}
      <p role="status" className={`pb-1 ${BAD[view?.state ?? "none"]}`} data-testid="instrument">
        {view?.state === "connected" || view?.state === "silent" ? (
          <>
            {view.name || kind.replace("-", " ")}
            {view.simulated && !view.name.includes("simulated") && " (simulated)"}
            {view.why ? `: ${view.why}` : " connected"}
          </>
        ) : view?.state === "connecting" ? (
          "connecting…"
        ) : view?.state === "ended" ? (
          `Not connected: ${view.why}.`
        ) : (
          "Not connected."
        )}
      </p>
      {on && (
        <button type="button" className="act plain" onClick={of.leave}>
          Leave it
        </button>
      )}
      {refused && (
        <p role="alert" className="sev-Shortfall pb-1 font-semibold">
          {refused}
        </p>
      )}
    </div>
  );
}
