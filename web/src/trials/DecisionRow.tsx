import { Link } from "react-router";
import type { Schemas } from "../app/api";
import { dated } from "../ui/day";
import css from "./DecisionRow.module.css";
import { useDecisionDone } from "./queries";

interface Props {
  decision: Schemas["DecisionView"];
  /** For whom, where that is not clear from the page. */
  player?: string;
}

export function DecisionRow({ decision, player }: Props) {
  const done = useDecisionDone();
  const { recheck_on, address, session } = decision;
  const to = address || (session ? `/sessions/${session}/decide` : undefined);
  const due = recheck_on && !decision.done && new Date(`${recheck_on}T00:00:00`) <= new Date();
  return (
    <li className={decision.done ? "done" : undefined}>
      {player && (
        <Link to={`/players/${decision.player}`} className="row-name">
          {player}
        </Link>
      )}
      <p className="decision-words">{decision.words}</p>
      {decision.verdict && <p className="quiet">{decision.verdict}</p>}
      <p className={css.decisionFoot}>
        {recheck_on && (
          <span className={due ? css.due : undefined}>
            {due ? "▸ due since" : "look again on"} {dated(recheck_on, true)}
          </span>
        )}
        {to && <Link to={to}>See the test</Link>}
        <button
          type="button"
          className="link"
          disabled={done.isPending}
          onClick={() => done.mutate({ id: decision.id, done: !decision.done })}
        >
          {decision.done ? "Open it again" : "Done with it"}
        </button>
      </p>
    </li>
  );
}
