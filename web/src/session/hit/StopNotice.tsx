// What stands before an all-out swing: to stop, or whether anybody is warm.

import { Button, Input } from "antd";
import { type FormEvent, useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../app/api";
import type { Words } from "../../app/vocabulary";
import { said } from "../../ui/Said";
import css from "./StopNotice.module.css";

type Act = (act: Schemas["SessionAct"], what: string) => void;

/** To stop, why, and what is left; the coach of a grown player may go on with a reason. */
export function StopNotice(props: { stop: Schemas["Stop"]; words: Words; act: Act }) {
  const { stop, words, act } = props;
  const [reason, setReason] = useState<string>();
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (reason?.trim()) act({ kind: "go_on", reason, over: stop.kind }, "all-out swings go on");
  };
  return (
    <div className={css.stop} role="alert">
      <p>{said(stop.said, words)}</p>
      {stop.may_go_on && reason === undefined && (
        <button type="button" className="link" onClick={() => setReason("")}>
          Go on, with a reason
        </button>
      )}
      {reason !== undefined && (
        <form onSubmit={submit}>
          <Input
            aria-label="Why all-out swings go on"
            placeholder="Why"
            value={reason}
            onChange={(e) => setReason(e.target.value)}
          />
          <Button htmlType="submit" disabled={!reason.trim()}>
            Go on
          </Button>
        </form>
      )}
    </div>
  );
}

/** Asked once: nobody said a word of a warm-up, and all-out swings are to come. */
export function AskWarmUp({ session, act }: { session: string; act: Act }) {
  return (
    <p className={css.ask} role="status">
      <b>No warm-up is noted, and all-out swings are to come.</b>{" "}
      <Link to={`/sessions/${session}/warm-up`}>Warm up first</Link>{" "}
      <button
        type="button"
        className="link"
        onClick={() => act({ kind: "skip_warm_up" }, "warmed up already")}
      >
        They are warm: note it
      </button>
    </p>
  );
}
