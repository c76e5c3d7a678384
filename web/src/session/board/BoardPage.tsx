// A second screen at the mat: the great number, met or not, the tally, what comes next.
// Read from five metres, by whoever has the code; there is nothing on it to press.

import { Button, Input } from "antd";
import { useMemo, useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { ApiError } from "../../app/api";
import { useWordsIn, type Words } from "../../app/vocabulary";
import { FormTrouble } from "../../ui/FormTrouble";
import { Loading, Nothing } from "../../ui/Notice";
import { TallyStrip } from "../../ui/TallyStrip";
import { useScreenLit } from "../../ui/wake";
import { aimWords, ballWords } from "../hit/at";
import { Great, GreatWords, Other } from "../hit/Numbers";
import { RestTimer } from "../hit/RestTimer";
import { hitStrip } from "../hit/strip";
import css from "./BoardPage.module.css";
import { useBoard, useOpened } from "./queries";

export function BoardPage() {
  const { hash } = useLocation();
  const code = codeIn(hash);
  const opened = useOpened(code);
  if (code && opened.isPending) return <Loading />;
  if (opened.data) return <Board key={opened.data.board} board={opened.data.board} />;
  return <AskCode key={code} asked={code} error={opened.error} again={opened.refetch} />;
}

/** The code that an address holds, however it was written there. */
function codeIn(hash: string): string {
  try {
    return decodeURIComponent(hash.slice(1));
  } catch {
    return hash.slice(1);
  }
}

interface AskProps {
  asked: string;
  error: Error | null;
  again: () => void;
}

function AskCode({ asked, error, again }: AskProps) {
  const navigate = useNavigate();
  const [code, setCode] = useState(asked);
  return (
    <main className={css.ask}>
      <h1>The board</h1>
      <p>Type the code that the coach’s screen shows under “Board”.</p>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          // The same once more: it may have had to wait.
          if (code.trim() === asked.trim()) again();
          else navigate({ hash: encodeURIComponent(code.trim()) });
        }}
      >
        <Input
          size="large"
          aria-label="Code"
          value={code}
          onChange={(event) => setCode(event.target.value)}
          autoFocus
          autoComplete="off"
          autoCapitalize="none"
          spellCheck={false}
          maxLength={20}
        />
        <Button size="large" type="primary" htmlType="submit" disabled={code.trim() === ""}>
          Show it
        </Button>
      </form>
      <FormTrouble error={error} />
    </main>
  );
}

function Board({ board }: { board: string }) {
  const { shown, state } = useBoard(board);
  const words = useWordsIn(shown.data?.units);
  useScreenLit(!shown.isError);
  if (shown.isError && (!shown.data || isOver(shown.error))) {
    return (
      <main className="page">
        <Nothing title="The board is dark">
          <p>{shown.error.message}</p>
          <p>
            <a href="/board">Type another code</a>
          </p>
        </Nothing>
      </main>
    );
  }
  if (!shown.data || !words) return <Loading />;
  return <Shown view={shown.data} words={words} away={state === "away"} />;
}

/** Whether the server said that there is no such board, rather than nothing. */
const isOver = (error: Error) => error instanceof ApiError && error.status === 404;

type View = NonNullable<ReturnType<typeof useBoard>["shown"]["data"]>;

function Shown({ view, words, away }: { view: View; words: Words; away: boolean }) {
  const { report, shots, blocks } = view;
  const { place } = report;
  const newest = shots.length - 1;
  const shot = shots[newest];
  const [greatest, ...others] = report.shown;
  const block = blocks[place.block];
  const next = place.next == null ? undefined : blocks[place.next];
  const strip = useMemo(() => hitStrip(view, words), [view, words]);
  return (
    <main className={css.board}>
      <header className={css.head}>
        <p className={css.block}>{block?.known_as}</p>
        <p className={css.place}>{ballWords(place)}</p>
      </header>
      <section className={css.shot} aria-label="The shot" aria-live="polite">
        {greatest ? (
          <>
            <div className={css.great}>
              <Great quantity={greatest} shot={shot} words={words} />
              <p className={css.words}>
                <GreatWords quantity={greatest} view={view} index={newest} words={words} />
                {report.shots[newest]?.standing === "doubtful" && <b>doubtful</b>}
              </p>
            </div>
            <dl className={css.others}>
              {others.slice(0, 3).map((quantity) => (
                <Other key={quantity} quantity={quantity} shot={shot} words={words} />
              ))}
            </dl>
          </>
        ) : (
          <p className={css.words}>Every number is hidden.</p>
        )}
      </section>
      <section className={css.tally} aria-label="Tally">
        <TallyStrip {...strip} blocks={blocks} tall={120} best={report.best ?? undefined} newest />
      </section>
      <footer className={css.foot}>
        <div>
          {report.target && <p>{aimWords(report.target, words)}</p>}
          {(report.met[1] ?? 0) > 0 && (
            <p>
              {report.met[0]} of {report.met[1]} on target
            </p>
          )}
        </div>
        <div className={css.rest}>
          {view.paused ? (
            <p>paused</p>
          ) : (
            place.rest_s > 0 &&
            shot && (
              <RestTimer
                since={new Date(new Date(shot.hit_at).getTime() + view.ahead).toISOString()}
                seconds={place.rest_s}
              />
            )
          )}
        </div>
        <div className={css.next}>
          {away ? (
            <p role="status">server away, trying again</p>
          ) : (
            next && (
              <p>
                next <b>{next.known_as}</b>
              </p>
            )
          )}
        </div>
      </footer>
    </main>
  );
}
