import css from "./OutboxNotice.module.css";
import { letGo, tryAgain, useOutbox } from "./outbox";

/** Says what waits for the server, and what stepped aside with its reason. */
export function OutboxNotice() {
  const { waiting, aside, away } = useOutbox();
  return (
    <>
      {aside.map((entry) => (
        <p key={entry.id} className={css.outbox} role="alert">
          Not taken: {entry.what}. {entry.aside}{" "}
          <button type="button" className="link" onClick={() => void tryAgain(entry)}>
            Try again
          </button>{" "}
          <button type="button" className="link" onClick={() => void letGo(entry)}>
            Understood
          </button>
        </p>
      ))}
      {away && waiting.length > 0 && (
        <p className={css.outbox} role="status">
          The server is away.{" "}
          {waiting.length === 1 ? "One entry is" : `${waiting.length} entries are`} kept here and
          sent once it is back: {waiting.map((w) => w.what).join("; ")}.
        </p>
      )}
    </>
  );
}
