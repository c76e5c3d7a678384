// What a session is opened with: the sentence of its purpose, and bests of swings that
// hit no ball.

import { Link } from "react-router";
import type { Schemas } from "../../app/api";
import type { Words } from "../../app/vocabulary";
import { said } from "../../ui/Said";
import { TableRoom } from "../../ui/TableRoom";
import { WorkingLink } from "../../ui/Working";
import css from "./Opening.module.css";
import { type SessionRead, useOpening } from "./queries";

interface Props {
  read: SessionRead;
  words: Words;
  /** The moment whose house rules are used; today's when absent. */
  rulesAt: string | undefined;
}

export function Opening({ read, words, rulesAt }: Props) {
  const { session, report } = read;
  const opening = useOpening(session.id, read.club);
  // By the rules of another day only the carry is read anew.
  const pinned = rulesAt !== undefined;
  const told = pinned ? undefined : opening.data;
  const verdict = told?.verdict ?? (pinned || opening.isError ? report.verdict : undefined);
  const beside = told && BESIDE.has(told.purpose) && report.carry.gap !== null;
  if (!verdict) return <div className={css.coming} aria-busy="true" />;
  return (
    <>
      <Said verdict={verdict} words={words} opening>
        {!pinned && (
          <>
            {" · "}
            <Link to={`/sessions/${session.id}/read?rules=${new Date().toISOString()}`}>
              Link as of today
            </Link>
          </>
        )}
      </Said>
      {told && told.swings.length > 0 && <Swings rows={told.swings} words={words} />}
      {beside && report.carry.gap && (
        <div className={css.beside}>
          <Said verdict={report.verdict} words={words} />
        </div>
      )}
    </>
  );
}

/** Purposes whose balls are all of one kind, so that one carry says something of them. */
const BESIDE = new Set<Schemas["Purpose"]>(["benchmark", "bag_gapping", "launch_and_spin"]);

interface SaidProps {
  verdict: Schemas["Verdict"];
  words: Words;
  opening?: boolean;
  children?: React.ReactNode;
}

function Said({ verdict, words, opening = false, children }: SaidProps) {
  const sentence = said(verdict.sentence, words);
  return (
    <>
      {opening ? (
        <h2 className={`verdict ${verdict.kind}`}>{sentence}</h2>
      ) : (
        <h3 className={css.besideSaid}>{sentence}</h3>
      )}
      <p className="detail">
        {said(verdict.detail, words)} ·{" "}
        <WorkingLink sentence={verdict.sentence} working={verdict.working} words={words} />
        {children}
      </p>
    </>
  );
}

/** Each block by itself, where blocks differ on purpose. */
export function Blocks({ rows, words }: { rows: Schemas["BlockRow"][]; words: Words }) {
  const shown = rows.flatMap((row) => row.figures.map((f) => f.quantity));
  const quantities = shown.filter((quantity, i) => shown.indexOf(quantity) === i);
  return (
    <section aria-label="Blocks">
      <h2 className="minor">Block by block</h2>
      <TableRoom of="Table">
        <table className="figures">
          <thead>
            <tr>
              <th scope="col">Mean of</th>
              {quantities.map((quantity) => {
                const { label, dimension } = words.quantity(quantity);
                const symbol = words.symbol(dimension);
                return (
                  <th key={quantity} scope="col">
                    {label.toLowerCase()}
                    {symbol && `, ${symbol}`}
                  </th>
                );
              })}
              <th scope="col">n</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr key={row.label}>
                <th scope="row">{row.label}</th>
                {quantities.map((quantity) => {
                  const figure = row.figures.find((f) => f.quantity === quantity);
                  const { dimension } = words.quantity(quantity);
                  return (
                    <td key={quantity}>{figure && words.bare(dimension, figure.summary.mean)}</td>
                  );
                })}
                <td className="second">{row.n}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </TableRoom>
    </section>
  );
}

/** Bests by implement, side and position. */
function Swings({ rows, words }: { rows: Schemas["SwingRow"][]; words: Words }) {
  return (
    <TableRoom of="Table">
      <table className="figures">
        <caption>Swings without a ball, {words.symbol("speed")}</caption>
        <thead>
          <tr>
            <th scope="col">Implement</th>
            <th scope="col">Side</th>
            <th scope="col">Position</th>
            <th scope="col">best</th>
            <th scope="col">mean</th>
            <th scope="col">n</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(({ swung, best, mean, n }) => (
            <tr key={`${swung.implement} ${swung.side} ${swung.position}`}>
              <th scope="row">{swung.implement}</th>
              <td>{SIDES[swung.side ?? "none"]}</td>
              <td>{swung.position ?? ""}</td>
              <td>{words.bare("speed", best)}</td>
              <td>{words.bare("speed", mean)}</td>
              <td>{n}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </TableRoom>
  );
}

const SIDES = { dominant: "own", other: "other", none: "" } as const;
