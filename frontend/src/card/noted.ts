// What was found on site, noted on the card: kept on the device, and handed back as a file or as codes.
import { buf } from "crc-32";
import qrcode from "qrcode-generator";

interface OnCard {
  drop: string;
  station: string;
  height_m: number | null;
  ends: { end: string; spare_m: number | null }[];
  anchors: { item: string; state: string }[];
  pull: string;
  arrive: string;
}
interface Data {
  card: string;
  plan: string;
  title: string;
  revision: number;
  version: string;
  units: "metric" | "us";
  stations: OnCard[];
}
const WHEN = { arrived: "arrived", rigged: "rigged, the first goes", down: "all are down", left: "rope down, gone" };
type Notes = Record<string, string>;
type Found = Record<string, unknown> & { what: string };
interface Gathered {
  found: Found[];
  said: string[];
  wrong: string[];
}

/** As much as a phone's screen shows in points that another camera can tell apart. */
const PIECE = 400;
const FOOT = 0.3048;
const part = (id: string) => document.getElementById(id) as HTMLElement;

/** A length as it is written, in metres; null where it is none, or outside the bounds. */
function metres(text: string, units: Data["units"], low: number): number | null {
  if (!/^\d{1,4}([.,]\d{1,3})?$/.test(text.trim())) return null;
  const shown = Number(text.trim().replace(",", "."));
  const m = Math.round(shown * (units === "us" ? FOOT : 1) * 1000) / 1000;
  return m >= low && m <= 600 ? m : null;
}

/** What is noted, as it is handed back, in words, and what is wrong with it. */
function gather(data: Data, notes: Notes): Gathered {
  const made: Gathered = { found: [], said: [], wrong: [] };
  const unit = data.units === "us" ? "ft" : "m";
  data.stations.forEach((s, n) => {
    const note = (key: string) => notes[`${s.drop}|${key}`] ?? "";
    const where = `${n + 1} · ${s.station}`;
    const add = (said: string, found: Found) => {
      made.found.push({ drop: s.drop, station: s.station, ...found });
      made.said.push(`${where}: ${said}`);
    };
    const wrong = (why: string) => made.wrong.push(`${where}: ${why}`);
    const height = note("height");
    if (height.trim()) {
      const m = metres(height, data.units, 0.5);
      if (m === null) wrong(`height: “${height}” is not a number of ${unit} that a drop can have.`);
      else if (!note("method")) wrong("height: say how it was found.");
      else {
        const more = { m, method: note("method"), was_m: s.height_m };
        add(`height ${height.trim()} ${unit} by ${note("method")}`, { what: "height", ...more });
      }
    }
    s.ends.forEach((e, i) => {
      const by = note(`by${i}`);
      if (!note(`reach${i}`)) {
        if (by.trim()) wrong(`${e.end}: say whether it reached.`);
        return;
      }
      const reached = note(`reach${i}`) === "yes";
      const m = by.trim() ? metres(by, data.units, 0) : null;
      if (by.trim() && m === null) wrong(`${e.end}: “${by}” is not a number of ${unit}.`);
      else {
        const told = by.trim() ? `, ${by.trim()} ${unit} ${reached ? "over" : "short"}` : "";
        const more = { end: e.end, reached, by_m: m, was_m: e.spare_m };
        add(`${e.end} ${reached ? "reached" : "did not reach"}${told}`, { what: "reach", ...more });
      }
    });
    s.anchors.forEach((a, i) => {
      const [state, words] = [note(`anchor${i}`), note(`words${i}`).trim()];
      if (!state && words) wrong(`${a.item}: say how it was found.`);
      if (!state) return;
      add(`${a.item}: ${state}${words ? `, ${words}` : ""}`, {
        what: "anchor",
        item: a.item,
        state,
        words,
        was: a.state,
      });
    });
    if (note("pull")) add(`the pull was ${note("pull")}`, { what: "pull", felt: note("pull"), was: s.pull });
    for (const [which, said] of Object.entries(WHEN)) {
      const clock = note(which);
      if (clock) add(`${said} ${clock}`, { what: "time", which, clock, was: which === "arrived" ? s.arrive : "" });
    }
    const [happened, near] = [note("incident").trim().replace(/\s+/g, " "), note("near")];
    if (happened && !near) wrong("incident: say whether it was one, or nearly.");
    else if (near && !happened) wrong("incident: say in words what happened.");
    else if (happened) {
      add(`${near === "near" ? "near miss" : "incident"}: ${happened}`, {
        what: "incident",
        near: near === "near",
        words: happened,
      });
    }
  });
  if (made.found.length === 0 && made.wrong.length === 0) made.wrong.push("Nothing is noted yet.");
  if (!(notes["|by"] ?? "").trim()) made.wrong.push("Say who noted it.");
  if (!notes["|on"]) made.wrong.push("Say on what day.");
  return made;
}

/** The file's text: in ASCII, so that it can be cut anywhere, and with its own check value at the end. */
function written(data: Data, notes: Notes, device: string, found: Found[]): string {
  const { stations: _, units: __, ...of } = data;
  const all = { format: 1, kind: "corrections", ...of, device, by: (notes["|by"] ?? "").trim(), on: notes["|on"] };
  const text = JSON.stringify({ ...all, corrections: found }).replace(
    /[\u007f-\uffff]/g,
    (c) => `\\u${c.charCodeAt(0).toString(16).padStart(4, "0")}`,
  );
  return `${text.slice(0, -1)},"crc":"${check(text)}"}`;
}
const check = (text: string) => (buf(new TextEncoder().encode(text)) >>> 0).toString(16).padStart(8, "0");

/** The text in pieces, each of which says which it is, of how many. */
function pieces(text: string): string[] {
  const number = Math.ceil(text.length / PIECE);
  return Array.from(
    { length: number },
    (_, n) => `reamer:${check(text)}:${n + 1}/${number}:${text.slice(n * PIECE, (n + 1) * PIECE)}`,
  );
}

/** What tells this phone from others: a number of its own, kept where anything can be. */
function deviceOf(kept: Storage | null): string {
  const had = kept?.getItem("reamer device") ?? "";
  if (/^[0-9a-f]{16}$/.test(had)) return had;
  const made = [...crypto.getRandomValues(new Uint8Array(8))].map((b) => b.toString(16).padStart(2, "0")).join("");
  try {
    kept?.setItem("reamer device", made);
  } catch {
    // It is another the next time: what is handed back twice is then told twice.
  }
  return made;
}

/** Lets what was found be noted and handed back. kept: where things are kept, if anywhere; id: the card's. */
export function noting(kept: Storage | null, id: string, unkept: () => void) {
  const data = JSON.parse(part("data").textContent ?? "{}") as Data;
  const key = `reamer noted ${id}`;
  const device = deviceOf(kept);
  const notes = read();

  function read(): Notes {
    try {
      const had: unknown = JSON.parse(kept?.getItem(key) ?? "{}");
      return typeof had === "object" && had !== null ? (had as Notes) : {};
    } catch {
      return {};
    }
  }
  type Field = HTMLInputElement | HTMLSelectElement | HTMLTextAreaElement;
  const fields = [...document.querySelectorAll<Field>("[data-note]")];
  const chosen = (f: Field): f is HTMLInputElement => f instanceof HTMLInputElement && f.type === "radio";
  const put = (f: Field) => {
    const value = notes[f.name] ?? "";
    if (chosen(f)) f.checked = f.value === value;
    else f.value = value;
  };
  const take = (f: Field) => {
    if (f.value) notes[f.name] = f.value;
    else delete notes[f.name];
    // The day is that on which the first thing was noted, unless somebody says another.
    if (f.value && f.name !== "|on" && !notes["|on"]) {
      const now = new Date();
      const two = (n: number) => String(n).padStart(2, "0");
      notes["|on"] = `${now.getFullYear()}-${two(now.getMonth() + 1)}-${two(now.getDate())}`;
      fields.filter((x) => x.name === "|on").forEach(put);
    }
    try {
      kept?.setItem(key, JSON.stringify(notes));
    } catch {
      unkept();
    }
    tell();
  };
  for (const f of fields) {
    put(f);
    f.addEventListener(chosen(f) ? "change" : "input", () => take(f));
  }
  for (const b of document.querySelectorAll<HTMLButtonElement>("[data-now]")) {
    b.addEventListener("click", () => {
      const field = fields.find((f) => f.name === b.dataset.now);
      if (!field) return;
      field.value = new Date().toTimeString().slice(0, 5);
      take(field);
    });
  }

  const list = part("noted");
  const wrong = part("wrong");
  const sent = part("sent");
  const figure = part("code");
  function tell() {
    const { said } = gather(data, notes);
    list.replaceChildren(...said.map((x) => Object.assign(document.createElement("li"), { textContent: x })));
    for (const x of document.querySelectorAll("[data-number]")) x.textContent = `${said.length} noted`;
    for (const x of [wrong, sent]) x.textContent = "";
    figure.hidden = true;
  }
  /** What is handed back, where nothing is wrong with it. */
  function ready(): string | null {
    const made = gather(data, notes);
    wrong.textContent = made.wrong.join(" ");
    sent.textContent = "";
    figure.hidden = true;
    return made.wrong.length > 0 ? null : written(data, notes, device, made.found);
  }
  part("save").addEventListener("click", () => {
    const text = ready();
    if (!text) return;
    const link = document.createElement("a");
    link.href = URL.createObjectURL(new Blob([text], { type: "application/json" }));
    link.download = `${data.title.toLowerCase().replace(/[^a-z0-9]+/g, "-")}.corrections.json`;
    link.click();
    setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
    sent.textContent = "Written. What is noted stays here too.";
  });
  document.getElementById("send")?.addEventListener("click", async () => {
    const text = ready();
    if (!text) return;
    sent.textContent = "Sending…";
    try {
      const headers = { "Content-Type": "application/json" };
      sent.textContent = await (await fetch(location.href, { method: "POST", headers, body: text })).text();
    } catch {
      sent.textContent = "The desk does not answer. Download the file, or show the codes.";
    }
  });

  qrcode.stringToBytes = (text) => [...new TextEncoder().encode(text)];
  let codes: string[] = [];
  let at = 0;
  const before = part("code-before") as HTMLButtonElement;
  const next = part("code-next") as HTMLButtonElement;
  function code(n: number) {
    at = Math.max(0, Math.min(codes.length - 1, n));
    const made = qrcode(0, "M");
    made.addData(codes[at] ?? "", "Byte");
    made.make();
    part("qr").innerHTML = made.createSvgTag({ cellSize: 1, margin: 4, scalable: true });
    part("piece").textContent = `code ${at + 1} of ${codes.length}`;
    before.disabled = at === 0;
    next.disabled = at === codes.length - 1;
  }
  part("codes").addEventListener("click", () => {
    const text = ready();
    if (!text) return;
    codes = pieces(text);
    figure.hidden = false;
    code(0);
    figure.scrollIntoView({ block: "start" });
  });
  before.addEventListener("click", () => code(at - 1));
  next.addEventListener("click", () => code(at + 1));
  tell();
}
