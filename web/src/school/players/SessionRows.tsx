// A player's sessions, latest first: filtered, compared, with the records set in them.

import { Input, Select } from "antd";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import type { Schemas } from "../../app/api";
import { useWords } from "../../app/vocabulary";
import { recordName } from "../../record/names";
import { useRecord } from "../../record/queries";
import { day } from "../../ui/day";
import css from "./PlayerPage.module.css";

/** From so many sessions on they are looked through by what they were. */
const MANY = 6;

type Listed = Schemas["NotedSession"];

/** The sessions, latest first; two of one purpose and club compare in two taps. */
export function SessionRows({ player, sessions }: { player: string; sessions: Listed[] }) {
  const [first, setFirst] = useState<Listed>();
  const [purpose, setPurpose] = useState("");
  const [club, setClub] = useState("");
  const [tag, setTag] = useState("");
  const [text, setText] = useState("");
  const words = useWords();
  const record = useRecord(player, {});
  const set = new Map(record.data?.sessions.map((s) => [s.id, s.set]));
  const looked = text.trim().toLowerCase();
  const shown = sessions.filter(
    (s) =>
      (!purpose || s.purpose === purpose) &&
      (!club || s.club === club) &&
      (!tag || s.tags.includes(tag)) &&
      (!looked ||
        `${s.place} ${day(s.started_at, s.zone)} ${s.note}`.toLowerCase().includes(looked)),
  );
  const navigate = useNavigate();
  const kind = (s: Listed) => `${s.purpose_key} ${s.club_key}`;
  const others = (s: Listed) =>
    s.shots > 0 && sessions.some((o) => o.id !== s.id && o.shots > 0 && kind(o) === kind(s));
  const pick = (s: Listed) => {
    if (!first || first.id === s.id) {
      setFirst(first ? undefined : s);
      return;
    }
    const address = new URLSearchParams({ by: s.compared_by });
    for (const set of [first, s].sort((a, b) => a.started_at.localeCompare(b.started_at)))
      address.append(
        "set",
        JSON.stringify({
          label: day(set.started_at, set.zone),
          session: set.id,
          club: set.club_key,
        }),
      );
    navigate(`/players/${player}/compare?${address}`);
  };
  return (
    <>
      {sessions.length > MANY && (
        <div className={css.filters}>
          <Filter
            name="Purpose"
            all="Any purpose"
            of={sessions.map((s) => s.purpose)}
            value={purpose}
            choose={setPurpose}
          />
          <Filter
            name="Club"
            all="Any club"
            of={sessions.map((s) => s.club)}
            value={club}
            choose={setClub}
          />
          <Filter
            name="Tag"
            all="Any tag"
            of={sessions.flatMap((s) => s.tags)}
            least={1}
            value={tag}
            choose={setTag}
          />
          <Input
            aria-label="Place, day or note"
            placeholder="Place, day or note"
            value={text}
            onChange={(e) => setText(e.target.value)}
            allowClear
          />
        </div>
      )}
      {shown.length === 0 && <p className="quiet">No session is like that.</p>}
      <ul className="rows">
        {shown.map((s) => (
          <li key={s.id} className={css.sessionRow}>
            <Link to={`/sessions/${s.id}/${s.in_progress ? "hit" : "read"}`} className="row-link">
              <span className="row-name">{day(s.started_at, s.zone)}</span>
              <span className="row-aim">
                {s.purpose} · {s.club.toLowerCase()}
                {words && (set.get(s.id)?.length ?? 0) > 0 && (
                  <small className={css.set}>
                    ▲ record:{" "}
                    {set
                      .get(s.id)
                      ?.map((of) => recordName(of, words))
                      .join(", ")}
                  </small>
                )}
                {s.note && <small className={css.note}>{s.note}</small>}
                {s.tags.map((of) => (
                  <small key={of} className={css.tag}>
                    {of}
                  </small>
                ))}
              </span>
              <span className="row-count">
                <b>{s.shots}</b> {s.shots === 1 ? "shot" : "shots"}
                <small>{s.place}</small>
              </span>
              <span className="row-last">
                {s.in_progress && (
                  <b className="now">
                    <i aria-hidden="true" /> in progress
                  </b>
                )}
              </span>
            </Link>
            {others(s) && (!first || kind(first) === kind(s)) && (
              <button
                type="button"
                className="text-act"
                aria-pressed={first?.id === s.id}
                onClick={() => pick(s)}
              >
                {!first ? "Compare" : first.id === s.id ? "Not this one" : "Against this one"}
              </button>
            )}
          </li>
        ))}
      </ul>
    </>
  );
}

function Filter(props: {
  name: string;
  all: string;
  of: string[];
  /** As many different ones make it worth a choice; two when not given. */
  least?: number;
  value: string;
  choose: (value: string) => void;
}) {
  const found = [...new Set(props.of)].sort();
  if (found.length < (props.least ?? 2)) return null;
  return (
    <Select
      aria-label={props.name}
      value={props.value}
      onChange={props.choose}
      popupMatchSelectWidth={false}
      options={[
        { value: "", label: props.all },
        ...found.map((value) => ({ value, label: value })),
      ]}
    />
  );
}
