// What a file does not tell: each asked in a sentence, with the answers to choose from.

import { Select } from "antd";
import type { Schemas } from "../app/api";
import type { Words } from "../app/vocabulary";
import css from "./ImportForm.module.css";

type Layout = Schemas["Layout"];
type Question = Schemas["Question"];

interface Props {
  questions: Question[];
  layout: Layout;
  change: (layout: Layout) => void;
  words: Words;
}

export function ImportQuestions({ questions, layout, change, words }: Props) {
  // Players are asked for below, each with their rows.
  const asked = questions.filter((question) => question.key !== "players");
  if (asked.length === 0) return null;
  const settle = (question: Question, fields: object) =>
    change({
      ...layout,
      ...fields,
      settled: [...new Set([...(layout.settled ?? []), question.key])],
    });
  return (
    <section aria-label="What the file does not tell" className={css.questions}>
      {asked.map((question) => (
        <fieldset key={question.key} className={question.open ? css.open : css.settled}>
          <legend>{question.asks}</legend>
          {question.cells.length > 0 && (
            <p className="quiet">{question.cells.map((cell) => `“${cell}”`).join(" · ")}</p>
          )}
          <div className={css.answers}>
            {question.choices.map((choice, at) => (
              <button
                type="button"
                key={choice.label}
                aria-pressed={question.chosen === at}
                onClick={() => settle(question, choice.change)}
              >
                {choice.label}
              </button>
            ))}
            {question.of_club != null && (
              <Select
                aria-label={question.asks}
                value={
                  question.of_club === "" && layout.filled_down
                    ? undefined
                    : layout.clubs?.[question.of_club]
                }
                placeholder="choose the club"
                onChange={(club) =>
                  settle(question, {
                    clubs: { ...layout.clubs, [question.of_club as string]: club },
                    ...(question.of_club === "" && { filled_down: false }),
                  })
                }
                options={words.vocabulary.clubs.map((c) => ({ value: c.key, label: c.label }))}
              />
            )}
          </div>
        </fieldset>
      ))}
    </section>
  );
}
