// A sentence of the server's, with its figures in the coach's units.

import type { Schemas } from "../app/api";
import type { Words } from "../app/vocabulary";
import { dated } from "./day";

export function said(sentence: Schemas["Sentence"], words: Words): string {
  return sentence
    .map((part) => {
      if (part.kind === "words") return part.text;
      if (part.kind === "day") return dated(part.date, part.year);
      if (part.kind === "apart") {
        const apart = part.bare ? words.apart : words.apartInFull;
        return apart(part.dimension, part.one, part.other);
      }
      return part.bare ? words.bare(part.dimension, part.si) : words.show(part.dimension, part.si);
    })
    .join("");
}
