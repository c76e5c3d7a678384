// How sets are told apart: by shape and by colour.

import type { Palette } from "../app/theme";

const SHAPES = ["circle", "diamond", "triangle", "rect", "pin", "arrow"] as const;
const SIGNS = ["●", "◆", "▲", "■", "▾", "▴"] as const;

export interface Voice {
  symbol: string;
  sign: string;
  colour: string;
}

export function voice(place: number, palette: Palette): Voice {
  const colours = [palette.amberText, palette.teal, palette.plum, palette.ink, palette.soft];
  return {
    symbol: SHAPES[place % SHAPES.length] ?? "circle",
    sign: SIGNS[place % SIGNS.length] ?? "●",
    colour: colours[place % colours.length] ?? palette.ink,
  };
}
