// Names, units and number formats, all as the server gives them.

import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { answered, api, type Dimension, type Quantity, type Schemas, type Units } from "./api";
import { keptChoice, useChoice } from "./choice";
import { keys } from "./keys";
import { LOCALE } from "./local";

export const unitsChoice = keptChoice<Units>("units", "mph_yd", ["mph_yd", "kmh_m", "mps_m"]);

export const UNIT_LABELS: Record<Units, string> = {
  mph_yd: "mph · yd",
  kmh_m: "km/h · m",
  mps_m: "m/s · m",
};

export interface Words {
  units: Units;
  vocabulary: Schemas["Vocabulary"];
  /** A value with its unit: "83.1 mph". */
  show: (dimension: Dimension, si: number) => string;
  /** A value alone: "83.1". */
  bare: (dimension: Dimension, si: number) => string;
  /** How far two values lie apart as they are shown: "11". */
  apart: (dimension: Dimension, one: number, other: number) => string;
  /** The same with its unit: "11 yd". */
  apartInFull: (dimension: Dimension, one: number, other: number) => string;
  /** The unit alone: "mph"; empty for a ratio. */
  symbol: (dimension: Dimension) => string;
  /** The unit's name in requests: "mph". */
  suffix: (dimension: Dimension) => string;
  /** A value in shown units, unrounded, for a chart's scale. */
  scaled: (dimension: Dimension, si: number) => number;
  /** A number typed in shown units, in internal ones. */
  internal: (dimension: Dimension, shown: number) => number;
  /** A number as a field takes it: "98.4", without grouping. */
  field: (dimension: Dimension, si: number) => string;
  quantity: (key: Quantity) => Schemas["QuantityWord"];
  check: (key: Schemas["CheckKind"]) => Schemas["CheckWord"];
  /** What a flight that is not useful fails: "low: apex 62 ft, at least 80". */
  failed: (failed: Schemas["Failed"]) => string;
  /** A club's name: "7-iron". */
  club: (key: string) => string;
}

export function useWords(): Words | undefined {
  const [units] = useChoice(unitsChoice);
  return useWordsIn(units);
}

/** The same in units that somebody else chose. */
export function useWordsIn(units: Units | undefined): Words | undefined {
  const { data } = useQuery({
    queryKey: keys.vocabulary,
    queryFn: () => answered(api.GET("/api/v1/vocabulary")),
    staleTime: Number.POSITIVE_INFINITY,
  });
  // The same words for the same units, so that what is drawn with them need not be drawn again.
  return useMemo(() => data && units && wordsOf(data, units), [data, units]);
}

export function wordsOf(vocabulary: Schemas["Vocabulary"], units: Units): Words {
  const shown = new Map(
    vocabulary.units.filter((u) => u.units === units).map((u) => [u.dimension, u]),
  );
  const named = new Map(vocabulary.quantities.map((q) => [q.key, q]));
  const checks = new Map(vocabulary.checks.map((check) => [check.key, check]));
  const clubs = new Map<string, string>(vocabulary.clubs.map((club) => [club.key, club.label]));
  const unit = (dimension: Dimension) => {
    const found = shown.get(dimension);
    if (!found) throw new Error(`no unit for ${dimension}`);
    return found;
  };
  const asShown = (dimension: Dimension, si: number) => {
    const { size, step } = unit(dimension);
    return Math.round(si / size / step) * step * size;
  };
  const bare = (dimension: Dimension, si: number) => {
    const { size, step, decimals } = unit(dimension);
    const rounded = Math.round(si / size / step) * step + 0;
    return rounded
      .toLocaleString(LOCALE, { minimumFractionDigits: decimals, maximumFractionDigits: decimals })
      .replace("-", "−");
  };
  const show = (dimension: Dimension, si: number) => {
    const { symbol } = unit(dimension);
    const space = symbol === "" || symbol === "°" ? "" : " ";
    return `${bare(dimension, si)}${space}${symbol}`;
  };
  const check = (key: Schemas["CheckKind"]) => {
    const found = checks.get(key);
    if (!found) throw new Error(`no check ${key}`);
    return found;
  };
  const between = (dimension: Dimension, one: number, other: number) =>
    Math.abs(asShown(dimension, one) - asShown(dimension, other));
  return {
    units,
    vocabulary,
    bare,
    apart: (dimension, one, other) => bare(dimension, between(dimension, one, other)),
    apartInFull: (dimension, one, other) => show(dimension, between(dimension, one, other)),
    symbol: (dimension) => unit(dimension).symbol,
    suffix: (dimension) => unit(dimension).suffix,
    scaled: (dimension, si) => si / unit(dimension).size,
    internal: (dimension, typed) => typed * unit(dimension).size,
    field: (dimension, si) => {
      const { size, decimals } = unit(dimension);
      return (si / size).toFixed(decimals);
    },
    show,
    club: (key) => clubs.get(key) ?? key,
    check,
    failed: ({ check: key, found, wanted }) => {
      const { label, of, dimension, limit } = check(key);
      return `${label}: ${of} ${show(dimension, found)}, ${limit} ${bare(dimension, wanted)}`;
    },
    quantity: (key) => {
      const found = named.get(key);
      if (!found) throw new Error(`no quantity ${key}`);
      return found;
    },
  };
}
