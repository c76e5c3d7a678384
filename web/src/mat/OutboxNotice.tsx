import css from "./OutboxNotice.module.css";
import { acknowledgeRefusal, useOutbox } from "./outbox";

/** Says what waits for the server, and what it refused. */
export function OutboxNotice() {
  const { waiting, away, refused } = useOutbox();
  if (refused) {
    return (
      <p className={css.outbox} role="alert">
        Not taken: {refused.what}. {refused.why}{" "}
        <button type="button" className="link" onClick={acknowledgeRefusal}>
          Understood
        </button>
      </p>
    );
  }
  if (!away || waiting.length === 0) return null;
  return (
    <p className={css.outbox} role="status">
      The server is away. {waiting.length === 1 ? "One entry is" : `${waiting.length} entries are`}{" "}
      kept here and sent once it is back: {waiting.map((w) => w.what).join("; ")}.
    </p>
  );
}
