// A player over time: one sentence, the progress strip, what changed, what is the best, what
// is to be reached.

import { Select } from "antd";
import { useRef, useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import type { Quantity, Schemas } from "../app/api";
import { useWords, type Words } from "../app/vocabulary";
import { useAsk } from "../ui/ask";
import { Choose } from "../ui/Choose";
import { Loading, Nothing, Trouble } from "../ui/Notice";
import { said } from "../ui/Said";
import { saveCsv, savePng } from "../ui/save";
import { Among } from "./Among";
import { Benchmarks } from "./Benchmarks";
import { Changes } from "./Changes";
import { GoalForm } from "./GoalForm";
import { NextList } from "./NextList";
import { nameOfSeries, wayOf } from "./names";
import { OffDays } from "./OffDays";
import { inWords, ProgressStrip } from "./ProgressStrip";
import { ProgressTable, tableOf } from "./ProgressTable";
import { useRecord } from "./queries";
import { Records } from "./Records";
import css from "./RecordTab.module.css";
import { Went } from "./Went";

export function RecordTab({ player, begin }: { player: string; begin: React.ReactNode }) {
  const words = useWords();
  const [address] = useSearchParams();
  const looked = {
    ...(address.get("club") && { club: address.get("club") ?? undefined }),
    ...(address.get("swung") && { swung: address.get("swung") ?? undefined }),
    ...(address.get("value") && { quantity: (address.get("value") as Quantity) ?? undefined }),
    ...(address.get("swings") && { series: address.get("swings") as Schemas["Series"] }),
  };
  const found = useRecord(player, looked);
  if (found.isError) return <Trouble error={found.error} retry={found.refetch} />;
  if (!found.data || !words) return <Loading />;
  const { shown } = found.data;
  if (!shown)
    return (
      <Nothing title="Nothing to follow yet">
        <p>
          Sessions held as a benchmark, for expected carry, launch and spin, bag gapping or speed
          make this page: what changed since the first of them, and whether it is real.
        </p>
        {begin}
      </Nothing>
    );
  return <Shown player={player} view={found.data} shown={shown} words={words} />;
}

function Shown(props: {
  player: string;
  view: Schemas["RecordView"];
  shown: Schemas["RecordShown"];
  words: Words;
}) {
  const { player, view, shown, words } = props;
  const { progress, choice } = shown;
  const { dimension } = words.quantity(progress.quantity);
  const [selected, setSelected] = useState<number>();
  const [asTable, setAsTable] = useState(false);
  const picture = useRef<HTMLElement>(null);
  const title = `${words.quantity(progress.quantity).label} day by day`;
  const navigate = useNavigate();
  const ask = useAsk();
  const open = (place: number) => {
    const session = view.sessions[progress.days[place]?.sessions[0] ?? -1];
    if (session) navigate(`/sessions/${session.id}/read`);
  };
  const picked = selected === undefined ? undefined : progress.days[selected];
  return (
    <>
      <section aria-label="Progress" ref={picture}>
        <h2 className={`verdict ${css.said}`}>{said(progress.sentence, words)}</h2>
        <p className="detail">{said(progress.detail, words)}</p>
        {shown.went.sentence && <p className={css.went}>{said(shown.went.sentence, words)}</p>}
        <Choosing
          choices={view.choices}
          choice={choice}
          words={words}
          choose={(to) => {
            setSelected(undefined);
            ask({
              club: to.club ?? "",
              swung: to.swung ? JSON.stringify(to.swung) : "",
              value: to.quantity,
              swings: to.series,
            });
          }}
        />
        {asTable ? (
          <ProgressTable progress={progress} words={words} />
        ) : (
          <ProgressStrip
            progress={progress}
            words={words}
            selected={selected}
            onSelect={setSelected}
            onOpen={open}
          />
        )}
        <p className={css.under}>
          <span>
            {picked ? (
              <>
                {inWords(picked, words, dimension)}{" "}
                <button type="button" className="link" onClick={() => open(selected ?? 0)}>
                  Open
                </button>
              </>
            ) : (
              "A stroke is a ball, or a day’s balls from least to most where days stand close; the bar is the average, the amber line the level. Arrow keys walk the days."
            )}
          </span>
          <span className={css.acts}>
            <button type="button" className="plain" onClick={() => setAsTable(!asTable)}>
              {asTable ? "Picture" : "Table"}
            </button>
            <button
              type="button"
              className="plain"
              disabled={asTable}
              onClick={() => {
                const svg = picture.current?.querySelector("svg");
                if (svg) savePng(svg, title);
              }}
            >
              PNG
            </button>
            <button
              type="button"
              className="plain"
              onClick={() => saveCsv(tableOf(progress, words), title)}
            >
              CSV
            </button>
          </span>
        </p>
      </section>
      <NextList player={player} words={words} />
      <div className={css.columns}>
        <section aria-label="Changes">
          <h2 className="minor">What changed</h2>
          <Changes shown={shown} words={words} />
          <Went steps={shown.went.steps} words={words} />
          <OffDays days={shown.off_days} words={words} />
          {choice.club && choice.series === "usual" && (
            <div className={css.next}>
              <Among player={player} club={choice.club} quantity={choice.quantity} words={words} />
            </div>
          )}
        </section>
        <section aria-label="Goal">
          {choice.club && (
            <>
              <h2 className="minor">Goal</h2>
              <GoalForm
                key={`${choice.club} ${choice.quantity}`}
                player={player}
                club={choice.club}
                quantity={choice.quantity}
                forecast={progress.forecast ?? undefined}
                words={words}
              />
            </>
          )}
          <h2 className={`minor ${choice.club ? css.next : ""}`}>Records</h2>
          <Records records={view.records} choice={choice} sessions={view.sessions} words={words} />
          {choice.club && (
            <>
              <h2 className={`minor ${css.next}`}>Benchmarks</h2>
              <Benchmarks
                player={player}
                view={view}
                club={choice.club}
                quantity={choice.quantity}
                words={words}
              />
            </>
          )}
        </section>
      </div>
    </>
  );
}

/** Club, way of swinging and value, by one tap each. */
function Choosing(props: {
  choices: Schemas["SeriesChoice"][];
  choice: Schemas["SeriesChoice"];
  words: Words;
  choose: (choice: Schemas["SeriesChoice"]) => void;
}) {
  const { choices, choice, words, choose } = props;
  const key = wayOf;
  const clubs = new Map<string, Schemas["SeriesChoice"]>();
  for (const c of choices) if (!clubs.has(key(c))) clubs.set(key(c), c);
  const values = choices.filter((c) => key(c) === key(choice));
  const both = new Set(choices.filter((c) => c.club).map((c) => c.series)).size > 1;
  return (
    <div className={css.choosing}>
      <Select
        aria-label="Club"
        value={key(choice)}
        popupMatchSelectWidth={false}
        onChange={(to) => {
          const first = clubs.get(to);
          const same = choices.find((c) => key(c) === to && c.quantity === choice.quantity);
          if (same ?? first) choose((same ?? first) as Schemas["SeriesChoice"]);
        }}
        options={[...clubs.values()].map((c) => ({
          value: key(c),
          label: nameOfSeries(c, both, words),
        }))}
      />
      <Choose
        legend="Value"
        of={values.map((c) => [c.quantity, words.quantity(c.quantity).label] as const)}
        value={choice.quantity}
        choose={(quantity) => {
          const to = values.find((c) => c.quantity === quantity);
          if (to) choose(to);
        }}
      />
    </div>
  );
}
