// The rig that a station begins with once it is said what it is tied to.
import { freshId, known, unknown } from "../../state/edits";
import type { Drop, Feature, IceThread, Plan, Rig } from "../../state/model";
import { newPost, newRated } from "./Features";

function newIce(features: readonly Feature[], cord: string | undefined): IceThread {
  return {
    kind: "ice thread",
    id: freshId("ice-", features),
    name: "ice thread",
    screw_m: known(0.21, "given"),
    spacing_m: known(0.21, "eye"),
    first_deg: known(60, "given"),
    second_deg: known(60, "given"),
    ice: "unknown",
    wet_cold: "unknown",
    cord: cord ?? null,
    closed_by: "usual",
    in_place: "no",
    seen_whole: "unknown",
    backed_up: "unknown",
  };
}

/** How far the edge lies out from the station, as far as somebody has entered it. */
function setbackOf({ section }: Drop): number | null {
  if (section.kind === "quick") return section.setback_m.kind === "known" ? section.setback_m.value : null;
  const first = section.shots[0];
  if (first?.slope_m.kind !== "known" || first.incl_deg.kind !== "known") return null;
  return first.slope_m.value * Math.max(0, Math.cos((first.incl_deg.value * Math.PI) / 180));
}

/** Where two points and the focal point between them begin: on the top, or above an edge that is too near for that;
 *  in front of the edge the load would pull at points that lie level with the focal point. */
function besides(setback: number | null) {
  return setback === null || setback >= 0.75
    ? { out: 0.6, aside: 0.2, up: 0 }
    : { out: Math.max(0.05, Math.round(setback * 50) / 100), aside: 0.15, up: 0.5 };
}

/** The rig of another kind, on what the station has already or on something new. */
export function rigOf(
  kind: string,
  plan: Plan,
  drop: Drop,
  old: readonly Feature[],
): { rig: Rig; features: Feature[] } {
  const features = [...old];
  const ring = plan.shed.rings?.[0]?.id ?? "none";
  const webbing = plan.shed.webbing?.[0]?.id ?? "none";
  const rest = { ring, links: [], ring_loaded: "unknown" as const };
  const take = <T extends Feature>(found: T | undefined, make: () => T): T => {
    if (found) return found;
    const made = make();
    features.push(made);
    return made;
  };
  const posts = features.filter((f) => f.kind === "post");
  const rated = features.filter((f) => f.kind === "rated");
  if (kind === "wrap") {
    const post = take(posts[0], () => newPost(features));
    const knotted = plan.policies?.focal === "knotted";
    return {
      features,
      rig: {
        kind: "wrap",
        post: post.id,
        pattern: knotted ? "simple wrap, overhand" : "simple wrap",
        webbing,
        gain_m: known(0.6, "given"),
        bend_at: plan.policies?.bend === "in view" ? "leg" : "back",
        extension_m: unknown("no extension"),
        ...rest,
      },
    };
  }
  if (kind === "direct") {
    const anchor = take(rated[0], () => newRated(features));
    return { features, rig: { kind: "direct", anchor: anchor.id, gain_m: known(0.2, "given"), ...rest } };
  }
  if (kind === "round") {
    const post = take(posts[0], () => newPost(features, "tree"));
    return { features, rig: { kind: "direct", anchor: post.id, gain_m: known(0.05, "given"), ...rest, ring: null } };
  }
  if (kind === "ice") {
    const cord = plan.shed.ropes?.find((r) => r.kind === "pull cord")?.id;
    const thread = take(
      features.find((f) => f.kind === "ice thread"),
      () => newIce(features, cord),
    );
    return { features, rig: { kind: "direct", anchor: thread.id, gain_m: known(0.1, "given"), ...rest, ring: null } };
  }
  if (kind === "two posts") {
    const first = take(posts[0], () => newPost(features, "first post"));
    const second = take(posts[1], () => newPost(features, "second post"));
    return {
      features,
      rig: {
        kind: "two posts",
        first: first.id,
        second: second.id,
        webbing,
        first_gain_m: known(0.6, "given"),
        second_gain_m: known(0.6, "given"),
        angle_deg: unknown("not measured"),
        swing_deg: known(15, "given"),
        ...rest,
      },
    };
  }
  if (kind === "several") {
    const a = take(rated[0], () => newRated(features, "left point"));
    const b = take(rated[1], () => newRated(features, "right point"));
    const at = besides(setbackOf(drop));
    const leg = (id: string, anchor: string, aside: number) => ({
      id,
      anchor,
      of: webbing,
      closed_by: "usual" as const,
      lies: "unknown" as const,
      out_m: known(0, "eye"),
      aside_m: known(aside, "eye"),
      up_m: known(at.up, "eye"),
    });
    return {
      features,
      rig: {
        kind: "several",
        legs: [leg("l1", a.id, at.aside), leg("l2", b.id, -at.aside)],
        focal: "knotted",
        knot: "overhand",
        slack_m: unknown("no limiting knots"),
        out_m: known(at.out, "given"),
        aside_m: known(0, "given"),
        up_m: known(0, "given"),
        down_deg: unknown("as the rope runs"),
        aside_deg: known(0, "given"),
        swing_deg: known(15, "given"),
        ...rest,
      },
    };
  }
  return { features, rig: { kind: "none" } };
}
