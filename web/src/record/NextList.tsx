// What this player could work on next, ranked by what it is worth on the course.

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Input } from "antd";
import { type FormEvent, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { answered, api, type Schemas } from "../app/api";
import { keys } from "../app/keys";
import type { Words } from "../app/vocabulary";
import { useAsk } from "../ui/ask";
import { Choose } from "../ui/Choose";
import { FormTrouble } from "../ui/FormTrouble";
import { said } from "../ui/Said";
import { WorkingLink } from "../ui/Working";
import css from "./NextList.module.css";

type Item = Schemas["NextItem"];
type By = "score" | "distance";

const BY: [By, string][] = [
  ["score", "score first"],
  ["distance", "distance first"],
];
const url = "/api/v1/players/{player}/next" as const;

export function NextList({ player, words }: { player: string; words: Words }) {
  const [address] = useSearchParams();
  const ask = useAsk();
  const by: By = address.get("first") === "distance" ? "distance" : "score";
  const client = useQueryClient();
  const found = useQuery({
    queryKey: keys.player.next(player, by),
    queryFn: () => answered(api.GET(url, { params: { path: { player }, query: { by } } })),
    placeholderData: (before) => before,
  });
  const again = () => client.invalidateQueries({ queryKey: keys.player.nextOf(player) });
  const choose = useMutation({
    mutationFn: (body: Schemas["NextChosen"]) =>
      answered(api.PUT(url, { params: { path: { player } }, body })),
    onSuccess: again,
  });
  const unchoose = useMutation({
    mutationFn: (item: string) =>
      answered(api.DELETE(url, { params: { path: { player }, query: { item } } })),
    onSuccess: again,
  });
  const { items = [], dismissed = [] } = found.data ?? {};
  if (items.length === 0 && dismissed.length === 0) return <FormTrouble error={found.error} />;
  return (
    <section aria-label="What next" className={css.next}>
      <div className={css.head}>
        <h2>What next</h2>
        <Choose
          legend="Ranked by"
          of={BY}
          value={by}
          choose={(key) => ask({ first: key === "distance" ? key : "" })}
        />
      </div>
      <ol className={css.list}>
        {items.map((item, place) => (
          <Row
            key={item.key}
            item={item}
            place={place + 1}
            player={player}
            words={words}
            choose={choose.mutate}
            unchoose={unchoose.mutate}
          />
        ))}
      </ol>
      {dismissed.length > 0 && (
        <details className="quiet">
          <summary>Dismissed: {dismissed.length}</summary>
          <ul>
            {dismissed.map(({ item, reason }) => (
              <li key={item}>
                {item}: {reason}{" "}
                <button type="button" className="link" onClick={() => unchoose.mutate(item)}>
                  Propose it again
                </button>
              </li>
            ))}
          </ul>
        </details>
      )}
      <FormTrouble error={found.error ?? choose.error ?? unchoose.error} />
    </section>
  );
}

function Row(props: {
  item: Item;
  place: number;
  player: string;
  words: Words;
  choose: (chosen: Schemas["NextChosen"]) => void;
  unchoose: (item: string) => void;
}) {
  const { item, place, player, words, choose, unchoose } = props;
  const [dismissing, setDismissing] = useState(false);
  const [reason, setReason] = useState("");
  const dismiss = (event: FormEvent) => {
    event.preventDefault();
    choose({ item: item.key, pinned: false, reason });
  };
  return (
    <li className={item.pinned ? css.pinned : undefined}>
      <span className={css.place}>{place}</span>
      <div>
        <p className={css.said}>{said(item.said, words)}</p>
        <p className={css.acts}>
          {item.purpose ? (
            <Link to={`/players/${player}/prepare?purpose=${item.purpose}&club=${item.club}`}>
              Prepare a session
            </Link>
          ) : (
            <Link to={`/players/${player}/compare`}>See the tests</Link>
          )}
          {item.pinned ? (
            <button type="button" className="link" onClick={() => unchoose(item.key)}>
              Unpin
            </button>
          ) : (
            <button
              type="button"
              className="link"
              onClick={() => choose({ item: item.key, pinned: true, reason: "" })}
            >
              Pin
            </button>
          )}
          {item.working && (
            <WorkingLink sentence={item.said} working={item.working} words={words} />
          )}
          <button
            type="button"
            className="link"
            aria-expanded={dismissing}
            onClick={() => setDismissing(!dismissing)}
          >
            Dismiss
          </button>
        </p>
        {dismissing && (
          <form onSubmit={dismiss} className={css.dismiss}>
            <Input
              aria-label="Why it is dismissed"
              placeholder="Why not now"
              value={reason}
              onChange={(e) => setReason(e.target.value)}
              maxLength={300}
            />
            <Button htmlType="submit" disabled={reason.trim() === ""}>
              Dismiss it
            </Button>
          </form>
        )}
      </div>
      <Worth worth={item.worth ?? undefined} words={words} />
    </li>
  );
}

/** What it is worth: in strokes a round and in carry, and whether it may be nothing. */
function Worth({ worth, words }: { worth: Schemas["Worth"] | undefined; words: Words }) {
  if (!worth) return <span className={css.worth} />;
  const { strokes, carry } = worth;
  return (
    <span className={css.worth}>
      <b>{strokes.value.toFixed(1)}</b> {strokes.value.toFixed(1) === "1.0" ? "stroke" : "strokes"}{" "}
      a round
      <small>
        {carry && `${words.show("distance", carry.value)} of carry, `}
        {strokes.low >= 0.05
          ? `${strokes.low.toFixed(1)} to ${strokes.high.toFixed(1)} strokes`
          : "perhaps nothing"}
      </small>
    </span>
  );
}
