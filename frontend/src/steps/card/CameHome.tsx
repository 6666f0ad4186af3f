// What came home: what phones hand back beside what the card said and what the plan says now; item by item into the
// survey, and out of it again.
import { useState } from "react";
import { useHanded, useHome, useHomecoming } from "../../state/home";
import type { CameHome as Handed, Sentence } from "../../state/model";
import { useSession } from "../../state/plan";
import { Said } from "../../ui/Num";
import { Unreadable } from "../../ui/Unreadable";

const WAYS = { file: "as a file", codes: "read from a screen", room: "from a phone in the room" } as const;
const STATES = {
  waiting: "waits",
  accepted: "accepted",
  refused: "refused",
  undone: "taken back, waits again",
} as const;
/** As large as a picture has to be for its codes to be read. */
const MOST = 1800;

/** A picture as base64, no larger than it has to be. */
async function shrunk(file: File): Promise<string> {
  const picture = await createImageBitmap(file);
  const scale = Math.min(1, MOST / Math.max(picture.width, picture.height));
  const canvas = document.createElement("canvas");
  canvas.width = Math.round(picture.width * scale);
  canvas.height = Math.round(picture.height * scale);
  canvas.getContext("2d")?.drawImage(picture, 0, 0, canvas.width, canvas.height);
  return canvas.toDataURL("image/jpeg", 0.9).split(",")[1] ?? "";
}

export function CameHome() {
  const { view } = useSession();
  const { data } = useHanded();
  const home = useHome();
  const [at, setAt] = useState("");
  const rows = data ?? [];
  const shown = rows.find((r) => r.id === at) ?? rows.find((r) => r.state === "waiting") ?? rows[0];
  return (
    <div className="max-w-5xl">
      <h1 className="text-lg font-bold">What came home</h1>
      <p className="quiet mb-3 max-w-2xl text-[13px]">
        What was found on site and noted on a phone's card. Accepted, it is kept for the log; what is ticked goes into
        the survey too, and is undone with one act.
      </p>
      <Unreadable kinds={["hand-back"]} plan={view.id} />
      <TakeIn home={home} onTaken={setAt} />
      {home.refused && (
        <p role="alert" className="sev-Shortfall my-2 font-semibold">
          {home.refused}
        </p>
      )}
      {home.left.map((s, i) => (
        <p key={i} role="status">
          <Said s={s} />
        </p>
      ))}
      {rows.length > 1 && (
        <ul className="mt-3" aria-label="everything that came home">
          {rows.map((r) => (
            <li key={r.id}>
              <button
                type="button"
                className={`shed-row ${shown?.id === r.id ? "on" : ""}`}
                aria-pressed={shown?.id === r.id}
                onClick={() => setAt(r.id)}
              >
                <Row r={r} />
              </button>
            </li>
          ))}
        </ul>
      )}
      {rows.length === 0 && data && <p className="mt-3">Nothing has come home yet.</p>}
      {shown && <Beside key={`${shown.id} ${shown.state} ${shown.taken}`} r={shown} home={home} />}
    </div>
  );
}

function Row({ r }: { r: Handed }) {
  return (
    <span>
      <b>
        {r.by}, {r.on}
      </b>
      <span className="quiet">
        {" "}
        · {r.corrections} noted · {r.revision > 0 ? `card of revision ${r.revision}` : "card made from a file"} ·{" "}
        {WAYS[r.way]} · {STATES[r.state]}
        {r.taken > 0 && `, ${r.taken} in the survey`}
      </span>
    </span>
  );
}

function TakeIn({ home, onTaken }: { home: ReturnType<typeof useHome>; onTaken: (id: string) => void }) {
  const [codes, setCodes] = useState<readonly string[]>([]);
  const [pasted, setPasted] = useState("");
  const take = async (way: Handed["way"], texts: readonly string[]) => {
    const made = await home.handIn(way, texts);
    if (!made) return;
    setCodes([]);
    setPasted("");
    onTaken(made.id);
  };
  const picked = async (files: FileList | null) => {
    const all = [...(files ?? [])];
    const texts: string[] = [];
    for (const f of all) {
      try {
        texts.push(...((await home.readCodes(await shrunk(f)))?.texts ?? []));
      } catch {
        home.setRefused(`${f.name} is not a picture that can be read.`);
        return;
      }
    }
    if (texts.length === 0) {
      home.setRefused("No code was found on the picture; hold it flat, whole and sharp.");
      return;
    }
    const pieces = [...new Set([...codes, ...texts])];
    setCodes(pieces);
    await take("codes", pieces);
  };
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-2 text-[13px]">
      <label className="act file-act">
        A file from a phone
        <input
          type="file"
          accept=".json,application/json"
          className="sr-only"
          onChange={async (e) => {
            const file = e.target.files?.[0];
            e.target.value = "";
            if (!file) return;
            if (file.size > 200_000) home.setRefused("The file is too large to be what a card hands back.");
            else await take("file", [await file.text()]);
          }}
        />
      </label>
      <label className="act file-act">
        Pictures of its codes
        <input
          type="file"
          accept="image/png,image/jpeg"
          multiple
          className="sr-only"
          onChange={async (e) => {
            await picked(e.target.files);
            e.target.value = "";
          }}
        />
      </label>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          const pieces = [...new Set([...codes, ...pasted.split(/\r?\n/).filter((x) => x.trim())])];
          setCodes(pieces);
          void take("codes", pieces);
        }}
      >
        <textarea
          aria-label="what a code reader read, a code a line"
          placeholder="what a code reader read, a code a line"
          className="field !h-8 w-72 py-1 align-middle"
          value={pasted}
          onChange={(e) => setPasted(e.target.value)}
        />
        <button type="submit" className="act ml-1" disabled={pasted.trim() === ""}>
          Take it
        </button>
      </form>
      {codes.length > 0 && (
        <p className="quiet">
          {codes.length} {codes.length === 1 ? "code" : "codes"} read so far; the others may follow.{" "}
          <button type="button" className="act plain" onClick={() => setCodes([])}>
            Begin anew
          </button>
        </p>
      )}
    </div>
  );
}

function Beside({ r, home }: { r: Handed; home: ReturnType<typeof useHome> }) {
  const { data, error } = useHomecoming(r.id);
  const [chosen, setTake] = useState<readonly string[] | null>(null);
  // What asks for more care is ticked from the first; what would make the answer milder is for the guide to choose.
  const bad = (data?.came ?? []).filter((c) => c.careful && !c.taken && c.called === "").map((c) => c.id);
  const take = chosen ?? (r.state === "accepted" ? [] : bad);
  const [busy, setBusy] = useState(false);
  const open = (data?.came ?? []).filter((c) => c.take && !c.taken);
  const act = async (what: () => Promise<unknown>) => {
    setBusy(true);
    try {
      await what();
    } finally {
      setBusy(false);
    }
  };
  const flip = (id: string) => setTake(take.includes(id) ? take.filter((x) => x !== id) : [...take, id]);
  const into = take.length > 0 ? `, ${take.length} into the survey` : "";
  return (
    <section className="mt-4" aria-label={`what ${r.by} noted`}>
      <h2>
        <Row r={r} />
      </h2>
      {!r.sealed && (
        <p className="sev-Caution font-semibold">
          This is not as the phone wrote it: somebody changed it since. What it says may not be what was noted.
        </p>
      )}
      {data?.elsewhere && (
        <p className="sev-Caution font-semibold">
          The card was made from another copy of this plan, “{data.title}”: its stations have the same names.
        </p>
      )}
      {error && <p role="alert">{error.message}</p>}
      {data && (
        <table className="home-table">
          <thead>
            <tr>
              <th>station</th>
              <th>of</th>
              <th>found</th>
              <th>the card said</th>
              <th>the plan says now</th>
              <th>into the survey</th>
            </tr>
          </thead>
          <tbody>
            {data.came.map((c) => (
              <tr key={c.id} data-correction={c.id} data-what={c.what}>
                <td>
                  {c.number > 0 ? `${c.number} · ` : ""}
                  {c.station}
                  {c.called && <span className="sev-Caution block">“{c.called}” on the card</span>}
                  {c.number === 0 && <span className="sev-Caution block">gone from the plan</span>}
                </td>
                <td>
                  <Said s={c.title} />
                </td>
                <td className="font-semibold">
                  <Said s={c.found} />
                  {c.had && r.state !== "accepted" && <span className="quiet block font-normal">accepted before</span>}
                  {c.others.map((s, i) => (
                    <span key={i} className="block font-normal">
                      <Said s={s} />
                    </span>
                  ))}
                </td>
                <td>{c.card ? <Said s={c.card} /> : <Nothing />}</td>
                <td className={c.moved ? "font-semibold" : ""}>
                  {c.plan ? <Said s={c.plan} /> : <Nothing />}
                  {c.moved && <span className="quiet block font-normal">changed since the card</span>}
                </td>
                <td>
                  <Into c={c} on={take.includes(c.id)} onFlip={() => flip(c.id)} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {data && (
        <div className="mt-2 flex flex-wrap items-center gap-2">
          {(r.state !== "accepted" || take.length > 0) && (
            <button type="button" className="act" disabled={busy} onClick={() => act(() => home.accept(r.id, take))}>
              {r.state === "accepted" ? `Take ${take.length} into the survey` : `Accept${into}`}
            </button>
          )}
          {open.length > 1 && (
            <button type="button" className="act plain" onClick={() => setTake(open.map((c) => c.id))}>
              Tick all
            </button>
          )}
          {r.state === "accepted" && (
            <button type="button" className="act plain" disabled={busy} onClick={() => act(() => home.undo(r.id))}>
              Undo it, in the survey too
            </button>
          )}
          {(r.state === "waiting" || r.state === "undone") && (
            <button type="button" className="act plain" disabled={busy} onClick={() => act(() => home.refuse(r.id))}>
              Refuse it
            </button>
          )}
        </div>
      )}
    </section>
  );
}

const Nothing = () => <span className="quiet">nothing</span>;

function Into({
  c,
  on,
  onFlip,
}: {
  c: { id: string; take: Sentence | null; why: string; taken: boolean };
  on: boolean;
  onFlip: () => void;
}) {
  if (c.taken) return <span>it is in the survey</span>;
  if (!c.take) return <span className="quiet">{c.why}</span>;
  return (
    <label className="flex items-start gap-1.5">
      <input type="checkbox" className="mt-1" checked={on} onChange={onFlip} />
      <span>
        <Said s={c.take} />
      </span>
    </label>
  );
}
