// A page as the player reads it: on a phone, on paper, behind a link. The words and the
// numbers are the server's.

import type { Schemas } from "../app/api";
import { day } from "../ui/day";
import { PagePicture } from "./PagePicture";
import css from "./TakeHome.module.css";

interface Props {
  page: Schemas["ShownPage"];
  school: string;
}

export function TakeHome({ page, school }: Props) {
  const today = new Date().toLocaleDateString("sv-SE");
  const [first, last] = page.days.map((on) => day(on, "UTC"));
  return (
    <article className={css.sheet} aria-label={`Page for ${page.called}`}>
      <div className={css.head}>
        <p className={css.school}>{school}</p>
        <h1>{page.called}</h1>
        <p>
          {page.title}, {first === last ? first : `${first} to ${last}`}
        </p>
      </div>
      {page.parts.map(({ part, heading, lines, more }) => (
        <section key={part} className={part === "seen" ? css.seen : css.part}>
          <h2>{heading}</h2>
          <ul>
            {lines.map(({ text, on, picture }, i) => (
              <li key={`${i + 1} ${text}`}>
                <p>
                  {text}
                  {on && (
                    <span className={css.on}>
                      {part === "until" && on < today ? "we were to look again on" : ON[part]}{" "}
                      {day(on, "UTC")}
                    </span>
                  )}
                </p>
                {picture && <PagePicture picture={picture} />}
              </li>
            ))}
          </ul>
          {more > 0 && <p className={css.more}>and {more} more: ask your coach</p>}
        </section>
      ))}
    </article>
  );
}

/** What a day beside a line is. */
const ON: Record<Schemas["PagePart"], string> = {
  seen: "",
  means: "",
  until: "we look again on",
  next: "by",
};
