// How shots A to D are told apart: by letter, dash and symbol, and only then by colour.

import type { Palette } from "../app/theme";

export const LETTERS = ["A", "B", "C", "D"] as const;

export const MARKS: { colour: keyof Palette; dash: number[]; symbol: string }[] = [
  { colour: "ink", dash: [], symbol: "circle" },
  { colour: "teal", dash: [9, 5], symbol: "rect" },
  { colour: "amberText", dash: [2, 4], symbol: "triangle" },
  { colour: "plum", dash: [12, 4, 2, 4], symbol: "diamond" },
];
