// One place that talks to the server. A failure is a Refusal that carries the problem's own words.
import { changed, type Changes as Told } from "../state/changes";
import type {
  Adoption,
  Broken,
  CameHome,
  CardPages,
  Cell,
  Changes,
  Checked,
  Comparison,
  CourtesyWay,
  CreateBody,
  Curve,
  DeviceView,
  Did,
  Drop,
  DropAssessment,
  Fix,
  Found,
  GearRecord,
  GearView,
  GivenBack,
  Grip,
  Homecoming,
  ImportView,
  InHand,
  KnotGuide,
  Lesson,
  ListedPlan,
  Mark,
  Matrix,
  Offered,
  OfferedActs,
  Option,
  Outgoing,
  PatternRow,
  Plan,
  PlanGear,
  PlanLog,
  PlanView,
  Problem,
  Progress,
  Prospect,
  Question,
  Quick,
  QuizQuestion,
  ReadCodes,
  Rehearsal,
  Restored,
  RevisionRow,
  School,
  SchoolOver,
  Sharing,
  Shed,
  ShedView,
  Shots,
  ShownCard,
  Standing,
  StationRun,
  TableView,
  ToBuy,
  Together,
  Trace,
  Trip,
  TripView,
  Twin,
  UnderWay,
  Unread,
  UsualKit,
  WaterView,
  Working,
} from "./types.gen";

export class Refusal extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail);
  }
}

/** The library that this page was answered from, by its name: what is on the screen is of that one and no other. */
let library = "";
export const libraryNow = () => library;
/** What a refusal is called because the library is another than this page's. */
export const OTHER = "urn:reamer:other-library";
let moved: () => void = () => undefined;
/** Say what is done once the library was put in another's place by somebody else. */
export function onMoved(f: () => void) {
  moved = f;
}

/** The units in view, in which a refusal tells its ranges. */
const inView = () => localStorage.getItem("units") ?? "metric";

const refused = (status: number, title: string, detail: string) =>
  new Refusal({ type: "about:blank", title, status, detail, errors: [], revision: null, since: [] });
const silent = () => refused(0, "No answer", "Reamer's server does not answer.");
const stopped = () => new DOMException("It was stopped.", "AbortError");

async function call<T>(method: string, path: string, body?: unknown, signal?: AbortSignal): Promise<T> {
  let response: Response;
  try {
    response = await fetch(`/api${path}`, {
      method,
      signal: signal ?? null,
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
      headers: {
        ...(body === undefined ? {} : { "Content-Type": "application/json", "X-Units": inView() }),
        ...(library ? { "X-Library": library } : {}),
      },
    });
  } catch (e) {
    if (e instanceof DOMException && e.name === "AbortError") throw e;
    throw silent();
  }
  const data: unknown = response.status === 204 ? undefined : await response.json().catch(() => null);
  return answer<T>(path, response.status, response.headers.get("X-Library"), data);
}

/** What the server answered, or the refusal that it is. */
function answer<T>(path: string, status: number, of: string | null, data: unknown): T {
  const good = status >= 200 && status < 300;
  // Whoever puts a backup in the library's place has seen both.
  if (good && (library === "" || path === "/restore")) library = of ?? library;
  if (good) return data as T;
  const problem = (data ?? {}) as Partial<Problem>;
  if (problem.type === OTHER) moved();
  throw new Refusal({
    type: problem.type ?? "about:blank",
    title: problem.title ?? "Refused",
    status,
    detail: problem.detail ?? `The server answered ${status}.`,
    errors: problem.errors ?? [],
    revision: problem.revision ?? null,
    since: problem.since ?? [],
  });
}

/** How a file is on its way: what part of it was sent, from 0 to 1. */
export interface Sending {
  signal?: AbortSignal;
  sent?: (part: number) => void;
}

/** A file in which numbers stand, and the sign before decimals once somebody said it. */
export interface FileRead extends Sending {
  decimal?: string;
}

/** A file sent as it is, of whatever size the operation takes. */
async function send<T>(operation: string, path: string, kind: string, file: Blob, on: Sending = {}): Promise<T> {
  const most = (await call<Record<string, number>>("GET", "/limits"))[operation] ?? 0;
  const mb = (n: number) => `${(n / 1e6).toLocaleString("en", { maximumFractionDigits: n < 1e7 ? 1 : 0 })} MB`;
  if (file.size > most)
    throw refused(413, "Too large", `The file has ${mb(file.size)}; at most ${mb(most)} are taken here.`);
  // How much of a body was sent is told by no other means.
  return new Promise<T>((done, failed) => {
    const request = new XMLHttpRequest();
    request.open("POST", `/api${path}`);
    request.responseType = "json";
    request.setRequestHeader("Content-Type", kind);
    if (library) request.setRequestHeader("X-Library", library);
    request.upload.onprogress = (e) => on.sent?.(e.total > 0 ? e.loaded / e.total : 1);
    request.onerror = () => failed(silent());
    request.onabort = () => failed(stopped());
    request.onload = () => {
      try {
        done(answer<T>(path, request.status, request.getResponseHeader("X-Library"), request.response));
      } catch (e) {
        failed(e);
      }
    };
    if (on.signal?.aborted) return failed(stopped());
    on.signal?.addEventListener("abort", () => request.abort());
    request.send(file);
  });
}

/** A plan as it stands, of an answer that tells it whole or what changed since the view that was there. */
const told = (had: PlanView, answer: PlanView | Changes): PlanView =>
  "set" in answer ? changed(had, answer as unknown as Told) : answer;

/** What is said of one item of a check. */
export interface Saying {
  item: string;
  verdict: Mark["verdict"];
  remark: string;
}

export const api = {
  plans: () => call<ListedPlan[]>("GET", "/plans"),
  bin: () => call<ListedPlan[]>("GET", "/bin"),
  create: (source: CreateBody["source"]) => call<PlanView>("POST", "/plans", { source } satisfies CreateBody),
  open: (id: string) => call<PlanView>("GET", `/plans/${id}`),
  openSince: async (had: PlanView) =>
    told(had, await call<PlanView | Changes>("GET", `/plans/${had.id}?seen=${had.stamp}`)),
  edit: async (had: PlanView, revision: number, key: string, changes: Told) => {
    const body = { revision, key, changes, seen: had.stamp };
    return told(had, await call<PlanView | Changes>("POST", `/plans/${had.id}/edits`, body));
  },
  readRuled: (id: string) => call<void>("POST", `/plans/${id}/ruled/read`, {}),
  rename: (id: string, revision: number, title: string) => call<PlanView>("PATCH", `/plans/${id}`, { revision, title }),
  remove: (id: string) => call<void>("DELETE", `/plans/${id}`),
  archive: (id: string, aside: boolean) => call<void>("POST", `/plans/${id}/archive`, { aside }),
  lookAtBackup: (file: Blob, on: Sending) =>
    send<Offered>("look_at_backup", "/restore/look", "application/vnd.sqlite3", file, on),
  unreadable: () => call<Unread[]>("GET", "/unreadable"),
  putAway: (kind: Unread["kind"], id: string, away: boolean) =>
    call<Unread[]>("POST", "/unreadable", { kind, id, away }),
  restoreLibrary: (token: string) => call<Restored>("POST", "/restore", { token }),
  restore: (id: string) => call<PlanView>("POST", `/bin/${id}/restore`, {}),
  step: async (had: PlanView, revision: number, key: string, which: "undo" | "redo") => {
    const body = { revision, key, seen: had.stamp };
    return told(had, await call<PlanView | Changes>("POST", `/plans/${had.id}/${which}`, body));
  },
  stepBack: (id: string, revision: number) => call<PlanView>("POST", `/plans/${id}/undo`, { revision }),
  longer: (id: string, revision: number, drop: string, signal?: AbortSignal) =>
    call<Cell>("GET", `/plans/${id}/revisions/${revision}/drops/${drop}/longer`, undefined, signal),
  standing: (id: string, revision: number) => call<Standing>("GET", `/plans/${id}/revisions/${revision}/standing`),
  since: (id: string, revision: number, before: number, signal?: AbortSignal) =>
    call<Did>("GET", `/plans/${id}/revisions/${revision}/since/${before}`, undefined, signal),
  offers: (id: string, revision: number, drop: string, signal?: AbortSignal) => {
    const path = `/plans/${id}/revisions/${revision}/offers?drop=${encodeURIComponent(drop)}`;
    return call<OfferedActs[]>("GET", path, undefined, signal);
  },
  revisions: (id: string) => call<RevisionRow[]>("GET", `/plans/${id}/revisions`),
  preview: (id: string, revision: number, index: number, drop: Drop) =>
    call<DropAssessment>("POST", `/plans/${id}/preview`, { revision, index, drop }),
  schools: () => call<string[]>("GET", "/schools"),
  school: (id: string, revision: number, key: string, signal?: AbortSignal) =>
    call<School>("GET", `/plans/${id}/revisions/${revision}/schools/${key}`, undefined, signal),
  ownSchool: (id: string, revision: number, school: string, signal?: AbortSignal) =>
    call<SchoolOver>("GET", `/plans/${id}/revisions/${revision}/own-schools/${school}`, undefined, signal),
  shed: (id: string) => call<ShedView>("GET", `/plans/${id}/shed`),
  saveShed: (id: string, revision: number, shed: Shed) =>
    call<ShedView>("PUT", `/plans/${id}/shed`, { revision, shed }),
  undoShed: (id: string, revision: number) => call<ShedView>("POST", `/plans/${id}/shed/undo`, { revision }),
  known: (plan: Record<string, unknown>) => call<Twin>("POST", "/plans/known", { kind: "file", plan }),
  kits: () => call<UsualKit[]>("GET", "/kits"),
  knots: () => call<KnotGuide[]>("GET", "/knots"),
  tables: () => call<TableView[]>("GET", "/tables"),
  patterns: (id: string, revision: number, drop: string, which: number) =>
    call<PatternRow[]>("GET", `/plans/${id}/revisions/${revision}/patterns/${drop}/${which}`),
  inHand: (id: string, revision: number, drop: string) =>
    call<InHand>("GET", `/plans/${id}/revisions/${revision}/in-hand/${drop}`),
  courtesy: (id: string, revision: number, drop: string) =>
    call<CourtesyWay[]>("GET", `/plans/${id}/revisions/${revision}/courtesy/${drop}`),
  pull: (id: string, revision: number, drop: string, which: number) =>
    call<Curve>("GET", `/plans/${id}/revisions/${revision}/pull/${drop}/${which}`),
  systems: (id: string, revision: number, drop: string, which: number, signal?: AbortSignal) =>
    call<Comparison>("GET", `/plans/${id}/revisions/${revision}/systems/${drop}/${which}`, undefined, signal),
  serving: (id: string, revision: number, drop: string, signal?: AbortSignal) =>
    call<Progress>("GET", `/plans/${id}/revisions/${revision}/serving/${drop}`, undefined, signal),
  prospect: (id: string, revision: number, signal?: AbortSignal) =>
    call<Prospect>("GET", `/plans/${id}/revisions/${revision}/prospect`, undefined, signal),
  bought: (id: string, revision: number, signal?: AbortSignal) =>
    call<ToBuy[]>("GET", `/plans/${id}/revisions/${revision}/bought`, undefined, signal),
  cancelProspect: (id: string) => call<void>("DELETE", `/plans/${id}/prospect`),
  adoption: (id: string, revision: number, ropes: readonly string[]) =>
    call<Adoption>(
      "GET",
      `/plans/${id}/revisions/${revision}/adoption?ropes=${ropes.map(encodeURIComponent).join(",")}`,
    ),
  working: (id: string, revision: number) => call<UnderWay | null>("GET", `/plans/${id}/revisions/${revision}/working`),
  check: (id: string, revision: number, signal?: AbortSignal) =>
    call<Checked>("GET", `/plans/${id}/revisions/${revision}/check`, undefined, signal),
  say: (id: string, revision: number, by: string, verdicts: readonly Saying[]) =>
    call<Checked>("POST", `/plans/${id}/check`, { revision, by, verdicts }),
  cardPages: (root: string, query: string, signal?: AbortSignal) =>
    call<CardPages>("GET", `${root.replace("/api", "")}/card/pages?${query}`, undefined, signal),
  sharing: () => call<Sharing>("GET", "/share"),
  share: (id: string, revision: number, units: string, minutes: number) =>
    call<ShownCard>("POST", `/plans/${id}/share`, { revision, units, minutes }),
  endShare: (id: string) => call<void>("DELETE", `/share/${id}`),
  handed: (id: string) => call<CameHome[]>("GET", `/plans/${id}/handed`),
  handIn: (id: string, way: CameHome["way"], texts: readonly string[]) =>
    call<CameHome>("POST", `/plans/${id}/handed`, { way, texts }),
  readCodes: (picture: string) => call<ReadCodes>("POST", "/codes", { picture }),
  homecoming: (id: string, handed: string) => call<Homecoming>("GET", `/plans/${id}/handed/${handed}`),
  acceptHanded: (id: string, handed: string, revision: number, take: readonly string[]) =>
    call<PlanView>("POST", `/plans/${id}/handed/${handed}/accept`, { revision, take }),
  refuseHanded: (id: string, handed: string) => call<CameHome>("POST", `/plans/${id}/handed/${handed}/refuse`, {}),
  undoHanded: (id: string, handed: string, revision: number) =>
    call<GivenBack>("POST", `/plans/${id}/handed/${handed}/undo`, { revision }),
  log: (id: string) => call<PlanLog>("GET", `/plans/${id}/log`),
  beginTrip: (id: string, on: string) => call<Trip>("GET", `/plans/${id}/log/new?on=${on}`),
  addTrip: (id: string, trip: Trip) => call<TripView>("POST", `/plans/${id}/log`, { trip }),
  saveTrip: (id: string, trip: string, revision: number, body: Trip) =>
    call<TripView>("PUT", `/plans/${id}/log/${trip}`, { revision, trip: body }),
  removeTrip: (id: string, trip: string, revision: number) =>
    call<TripView>("POST", `/plans/${id}/log/${trip}/remove`, { revision }),
  undoTrip: (id: string, trip: string, revision: number) =>
    call<TripView>("POST", `/plans/${id}/log/${trip}/undo`, { revision }),
  gear: (id: string) => call<PlanGear>("GET", `/plans/${id}/gear`),
  addGear: (id: string, record: GearRecord) => call<GearView>("POST", `/plans/${id}/gear`, { record }),
  saveGear: (id: string, gear: string, revision: number, record: GearRecord) =>
    call<GearView>("PUT", `/plans/${id}/gear/${gear}`, { revision, record }),
  removeGear: (id: string, gear: string, revision: number) =>
    call<GearView>("POST", `/plans/${id}/gear/${gear}/remove`, { revision }),
  undoGear: (id: string, gear: string, revision: number) =>
    call<GearView>("POST", `/plans/${id}/gear/${gear}/undo`, { revision }),
  device: (kind: string, after: number, sample: number, signal?: AbortSignal) =>
    call<DeviceView>("GET", `/devices/${kind}?after=${after}&sample=${sample}`, undefined, signal),
  connectDevice: (kind: string, port: number) => call<DeviceView>("POST", `/devices/${kind}`, { port }),
  leaveDevice: (kind: string) => call<void>("DELETE", `/devices/${kind}`),
  sectionAsShots: (quick: Quick) => call<Shots>("POST", "/sections/shots", quick),
  askDevice: (kind: string, what: "shoot" | "start" | "stop") =>
    call<DeviceView>("POST", `/devices/${kind}/ask`, { do: what }),
  takeShot: (id: string, revision: number, drop: string, number: number, first: number) =>
    call<PlanView>("POST", `/plans/${id}/shot`, { revision, drop, number, first }),
  water: (id: string) => call<WaterView>("GET", `/plans/${id}/water`),
  trace: (file: Blob, on: FileRead) =>
    send<Trace>("look_at_trace", `/traces?decimal=${on.decimal ?? ""}`, "application/octet-stream", file, on),
  exports: (id: string, revision: number) => call<Outgoing[]>("GET", `/plans/${id}/revisions/${revision}/exports`),
  lookAtFile: (id: string, file: File, on: FileRead) => {
    const path = `/plans/${id}/import?name=${encodeURIComponent(file.name.slice(-100))}&decimal=${on.decimal ?? ""}`;
    return send<ImportView>("look_at_file", path, "application/octet-stream", file, on);
  },
  logTogether: (id: string, trips: readonly Trip[]) => call<Together>("POST", `/plans/${id}/log/together`, { trips }),
  logApart: (id: string, trips: Record<string, number>) => call<Together>("POST", `/plans/${id}/log/apart`, { trips }),
  search: (text: string, signal?: AbortSignal) =>
    call<Found>("GET", `/search?q=${encodeURIComponent(text)}`, undefined, signal),
  learnt: () => call<Lesson[]>("GET", "/learnt"),
  rehearsal: (id: string, revision: number, signal?: AbortSignal) =>
    call<Rehearsal>("GET", `/plans/${id}/revisions/${revision}/rehearsal`, undefined, signal),
  stationRun: (id: string, revision: number, drop: string, signal?: AbortSignal) =>
    call<StationRun>("GET", `/plans/${id}/revisions/${revision}/rehearsal/${drop}`, undefined, signal),
  tried: (id: string, revision: number, drop: string, plan: Plan, signal?: AbortSignal) =>
    call<StationRun>("POST", `/plans/${id}/rehearsal/${drop}/tried`, { revision, plan }, signal),
  broken: (id: string, revision: number, drop: string, signal?: AbortSignal) =>
    call<Broken[]>("GET", `/plans/${id}/revisions/${revision}/rehearsal/${drop}/broken`, undefined, signal),
  matrix: (id: string, revision: number, drop: string) =>
    call<Matrix>("GET", `/plans/${id}/revisions/${revision}/rehearsal/${drop}/matrix`),
  mending: (id: string, revision: number, hazard: string, signal?: AbortSignal) =>
    call<Fix[]>(
      "GET",
      `/plans/${id}/revisions/${revision}/mending?hazard=${encodeURIComponent(hazard)}`,
      undefined,
      signal,
    ),
  quiz: (id: string, revision: number, drop: string) =>
    call<QuizQuestion[]>("GET", `/plans/${id}/revisions/${revision}/rehearsal/${drop}/quiz`),
  backups: (id: string, revision: number, drop: string, who: string) =>
    call<Option[]>("GET", `/plans/${id}/revisions/${revision}/backups/${drop}/${who}`),
  grip: (id: string, revision: number, drop: string, who: string, device: number, loop: number) =>
    call<Grip>("GET", `/plans/${id}/revisions/${revision}/grip/${drop}/${who}?device_m=${device}&loop_m=${loop}`),
  questions: () => call<Question[]>("GET", "/questions"),
  workings: (id: string, revision: number, subject: string) =>
    call<Working[]>("GET", `/plans/${id}/revisions/${revision}/workings/${subject}`),
};
