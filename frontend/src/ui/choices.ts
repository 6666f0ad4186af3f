// Choices that more than one step offers, as they are written.
export const SHARPNESS = ["rounded", "coarse", "sharp", "unknown"];

export const HANG = [
  { value: "side by side", label: "side by side" },
  { value: "one behind", label: "one between the other and the rock" },
  { value: "unknown", label: "unknown" },
];

export const ROCK = [
  { value: "smooth", label: "smooth, water-worn" },
  { value: "coarse", label: "coarse: sandstone, granite" },
  { value: "unknown", label: "nobody has said: the worst of both" },
];
