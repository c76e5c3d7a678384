// The conclusion: the sentence, what stands behind it, and the way to the working.

import type { Schemas } from "../app/api";
import type { Words } from "../app/vocabulary";
import { said } from "../ui/Said";
import { WorkingLink } from "../ui/Working";

export function VerdictHead({ verdict, words }: { verdict: Schemas["Verdict"]; words: Words }) {
  return (
    <>
      <h2 className={`verdict ${verdict.kind}`}>{said(verdict.sentence, words)}</h2>
      <p className="detail">
        {said(verdict.detail, words)} ·{" "}
        <WorkingLink sentence={verdict.sentence} working={verdict.working} words={words} />
      </p>
    </>
  );
}
