import type { ReactNode } from "react";
import css from "./Views.module.css";

interface Props {
  views: readonly (readonly [string, string])[];
  view: string;
  onView: (view: string) => void;
  children?: ReactNode;
}

/** What is looked at, to choose from. */
export function Views({ views, view, onView, children }: Props) {
  return (
    <nav className={css.views} aria-label="What is looked at">
      {views.map(([key, label]) => (
        <button key={key} type="button" aria-pressed={view === key} onClick={() => onView(key)}>
          {label}
        </button>
      ))}
      {children}
    </nav>
  );
}
