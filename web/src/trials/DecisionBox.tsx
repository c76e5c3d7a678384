// What the coach decides, in words, with a day to look again. It goes to the player's
// record and shows on Today.

import { Button, Input } from "antd";
import { type FormEvent, useState } from "react";
import { useLocation } from "react-router";
import { v7 as uuid } from "uuid";
import type { Schemas } from "../app/api";
import type { Words } from "../app/vocabulary";
import { DayField } from "../ui/DayField";
import { FormTrouble } from "../ui/FormTrouble";
import { said } from "../ui/Said";
import css from "./DecisionBox.module.css";
import { DecisionRow } from "./DecisionRow";
import { useKeepDecision } from "./queries";

interface Props {
  player: string;
  session?: string;
  verdict: Schemas["Verdict"];
  decisions: Schemas["DecisionView"][];
  words: Words;
}

export function DecisionBox({ player, session, verdict, decisions, words }: Props) {
  const [id, setId] = useState(() => uuid());
  const [text, setText] = useState("");
  const [recheck, setRecheck] = useState("");
  // A calendar is more than the rest of the page: it comes when it is asked for.
  const [again, setAgain] = useState(false);
  const { pathname, search } = useLocation();
  const keep = useKeepDecision(player);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const body = {
      id,
      words: text,
      recheck_on: recheck || null,
      session: session ?? null,
      verdict: said(verdict.sentence, words),
      address: `${pathname}${search}`,
    };
    keep.mutate(body, {
      onSuccess: () => {
        setId(uuid());
        setText("");
        setRecheck("");
        setAgain(false);
      },
    });
  };
  return (
    <section className={css.decisionBox} aria-labelledby="decision">
      <h2 id="decision" className="minor">
        Decision
      </h2>
      {decisions.length > 0 && (
        <ul className="decisions">
          {decisions.map((decision) => (
            <DecisionRow key={decision.id} decision={decision} />
          ))}
        </ul>
      )}
      <form onSubmit={submit}>
        <label>
          <span>What to do until next time</span>
          <Input.TextArea
            aria-label="What to do until next time"
            value={text}
            onChange={(e) => setText(e.target.value)}
            autoSize={{ minRows: 2, maxRows: 6 }}
            placeholder="In your words: it goes to the player’s record"
          />
        </label>
        <div className={css.decisionActs}>
          {again ? (
            <label>
              <span>Look again on</span>
              <DayField
                aria-label="Look again on"
                autoFocus
                value={recheck}
                onChange={(day) => setRecheck(day)}
              />
            </label>
          ) : (
            <button type="button" className={`link ${css.again}`} onClick={() => setAgain(true)}>
              Look again on…
            </button>
          )}
          <Button type="primary" htmlType="submit" loading={keep.isPending}>
            Keep the decision
          </Button>
        </div>
        <FormTrouble error={keep.error} />
      </form>
    </section>
  );
}
