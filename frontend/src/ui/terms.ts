// Words of the trade, each said once: where it first stands, and with the help.
export const TERMS = {
  "focal point": "where the anchor’s legs meet and the ring hangs",
  post: "a tree, block, horn or pillar that webbing goes round",
  reserve: "rope in the bag at the station, beyond what hangs: with it somebody can be let down",
  peak: "the most that a ride is counted to put on a part: twice the weight, and more where the rider is light",
  courtesy: "the ring clipped back near the anchor for all but the last, then set over the edge",
  school: "one way of doing it that is taught, where practitioners disagree",
  "run through": "the rope pulled through the next ring by hand, so that its other end comes to be threaded there",
} as const;

/** So many of a thing. */
export const counted = (n: number, one: string, many = `${one}s`): string => `${n} ${n === 1 ? one : many}`;
