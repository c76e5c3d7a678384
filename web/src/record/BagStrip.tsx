// The bag on one line of distance: where each club's balls come down, what nothing reaches, and
// which two do one job.

import { Fragment } from "react";
import { Link } from "react-router";
import type { Words } from "../app/vocabulary";
import { said } from "../ui/Said";
import { TableRoom } from "../ui/TableRoom";
import type { Bag, BagClub, BagGap } from "./air";
import css from "./BagStrip.module.css";

interface Props {
  read: Bag;
  words: Words;
}

export function BagStrip({ read, words }: Props) {
  const { clubs, gaps } = read;
  const ends = clubs.flatMap((club) => club.short_long);
  const [low, high] = [Math.min(...ends), Math.max(...ends)];
  const room = Math.max(high - low, 1) * 0.04;
  const place = (si: number) => `${(100 * (si - low + room)) / (high - low + 2 * room)}%`;
  const wide = (from: number, to: number) => `${(100 * (to - from)) / (high - low + 2 * room)}%`;
  return (
    <ol className={css.bag} aria-label="Clubs of the bag">
      {clubs.map((club, i) => (
        <Fragment key={club.club}>
          <li className={css.club}>
            <span className={css.name}>{words.club(club.club)}</span>
            <Line club={club} place={place} wide={wide} />
            <span className={css.number}>
              <b>{words.bare("distance", club.carry.value)}</b>
              <small>
                {club.sure ? `±${words.bare("distance", half(club))} · ` : ""}n {club.n}
              </small>
            </span>
          </li>
          {gaps[i] && <Between gap={gaps[i]} words={words} place={place} wide={wide} />}
        </Fragment>
      ))}
    </ol>
  );
}

const half = (club: BagClub) => (club.carry.high - club.carry.low) / 2;

interface OnLine {
  place: (si: number) => string;
  wide: (from: number, to: number) => string;
}

/** Most balls as a bar, their mean as a stroke through it. */
function Line({ club, place, wide }: { club: BagClub } & OnLine) {
  const [from = 0, to = 0] = club.short_long;
  return (
    <span className={css.line} aria-hidden="true">
      <i className={css.most} style={{ left: place(from), width: wide(from, to) }} />
      <i className={css.mean} style={{ left: place(club.carry.value) }} />
    </span>
  );
}

/** What lies between two neighbours, told where it is more than even. */
function Between({ gap, words, place, wide }: { gap: BagGap; words: Words } & OnLine) {
  if (gap.kind === "even")
    return (
      <li className={css.even}>
        <span className="sr-only">{said(gap.said, words)}</span>
        <span className={css.apart} aria-hidden="true">
          {words.bare("distance", gap.apart)}
        </span>
      </li>
    );
  const [from = 0, to = 0] = gap.bare ?? [];
  return (
    <li className={`${css.between} ${css[gap.kind]}`}>
      <span className={css.word}>{gap.kind === "hole" ? "Hole" : "One job"}</span>
      <span className={css.told}>
        {gap.kind === "hole" && gap.bare && (
          <span className={css.line} aria-hidden="true">
            <i className={css.bare} style={{ left: place(from), width: wide(from, to) }} />
          </span>
        )}
        {said(gap.said, words)}
        {gap.remedies.map((remedy) => {
          const text = said(remedy, words);
          return <small key={text}>{text}</small>;
        })}
      </span>
      <span className={css.apart} aria-hidden="true">
        {words.bare("distance", gap.apart)}
      </span>
    </li>
  );
}

/** All that is known of each club, to read and to take away. */
export function BagTable({ read, words }: Props) {
  const told = (dimension: "distance" | "speed" | "ratio", value?: number | null) =>
    value == null ? "–" : words.bare(dimension, value);
  return (
    <TableRoom of="Table">
      <table className="figures">
        <thead>
          <tr>
            <th scope="col">Club</th>
            <th scope="col">carry, {words.symbol("distance")}</th>
            <th scope="col">expected</th>
            <th scope="col">most balls</th>
            <th scope="col">left to right</th>
            <th scope="col">total</th>
            <th scope="col">club speed, {words.symbol("speed")}</th>
            <th scope="col">smash</th>
            <th scope="col">useful flight</th>
            <th scope="col">loft</th>
            <th scope="col">last hit</th>
          </tr>
        </thead>
        <tbody>
          {read.clubs.map((club) => (
            <tr key={club.club}>
              <th scope="row">{words.club(club.club)}</th>
              <td>{told("distance", club.carry.value)}</td>
              <td>{told("distance", club.expected)}</td>
              <td>{club.short_long.map((end) => told("distance", end)).join("–")}</td>
              <td>{told("distance", club.left_right)}</td>
              <td>{told("distance", club.total)}</td>
              <td>{told("speed", club.club_speed)}</td>
              <td>{told("ratio", club.smash)}</td>
              <td>{club.useful ? `${club.useful[0]} of ${club.useful[1]}` : "–"}</td>
              <td>{club.loft_deg == null ? "–" : `${club.loft_deg}°`}</td>
              <td>{club.last_hit}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </TableRoom>
  );
}

/** What to know of single clubs. */
export function BagNotes({ read, words }: Props) {
  const noted = read.clubs.filter((club) => club.notes.length > 0);
  if (noted.length === 0 && read.cautions.length === 0) return null;
  return (
    <>
      <h3>To know</h3>
      <ul className={css.notes}>
        {noted.map((club) => (
          <li key={club.club}>
            <b>{words.club(club.club)}</b> {club.notes.map((note) => said(note, words)).join(" ")}
          </li>
        ))}
        {read.cautions.map((caution) => {
          const text = said(caution, words);
          return <li key={text}>{text}</li>;
        })}
      </ul>
    </>
  );
}

export function CardLink({ player }: { player: string }) {
  return <Link to={`/players/${player}/card`}>Yardage card</Link>;
}
