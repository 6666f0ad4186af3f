// Short names for the generated types, and the unions that the generator leaves unnamed.
import type * as T from "../api/types.gen";

export type {
  ActStep as Step,
  Adoption,
  Assessment,
  Bounded,
  Broken,
  Cell,
  Checked,
  Contingencies,
  Count,
  Damage,
  Deviation,
  Device,
  Drop,
  DropAssessment,
  Edit,
  EndRef,
  Entry,
  Escape,
  Fault,
  Finding,
  Fix,
  Geometry,
  GoThrough,
  Grip,
  HeldBy,
  IceThread,
  Leg,
  Looked,
  Loop,
  Mark,
  Mass,
  Number as Num,
  Onward,
  Option,
  Outcome,
  Part,
  Person,
  PersonShown,
  Picture,
  Plan,
  PlanView,
  Post,
  Problem,
  Prospect,
  PullTest,
  Quick,
  QuizQuestion,
  Range,
  Rated,
  Reach,
  Rehearsal,
  Ring,
  Rope,
  RopeAssessment,
  Sentence,
  SetView,
  Several,
  SeveralView,
  Sharing,
  Shed,
  Shot,
  Shots,
  ShownCard,
  Sling,
  Span,
  State,
  Station,
  StationRun,
  StationTime,
  Tether,
  ThirdHand,
  Traverse,
  TwoPosts,
  Webbing,
  Working,
  Wrap,
} from "../api/types.gen";
export type ActEdit = T.ActAdded | T.ActDropped | T.ActMoved | T.ActReworded;
export type Figure = T.Known | T.Unknown;
export type Capacity = T.Range | T.Unknown;
export type Method = T.Known["method"];
export type System = T.State["system"];
export type Rig = T.State["rig"];
export type Link = T.SlingLink | T.RingLink | T.WebbingLink;
export type Feature = T.Post | T.Rated | T.IceThread;
export type Holds = T.Post["holds"];
export type Point = [number, number];
export type Severity = T.Finding["severity"];
export const SEVERITIES: readonly Severity[] = ["Shortfall", "Not checked", "Caution", "Note"];
export const SURVEY_METHODS: readonly Method[] = ["tape", "rangefinder", "known rope", "guidebook", "eye"];
