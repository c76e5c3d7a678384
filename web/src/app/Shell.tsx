import { Select } from "antd";
import { type ReactNode, Suspense, useEffect, useRef, useState } from "react";
import { NavLink, Outlet, useLocation } from "react-router";
import type { Units } from "./api";
import { useSchool } from "./asked";
import { useChoice } from "./choice";
import { keepApplication } from "./kept-application";
import css from "./Shell.module.css";
import { themeChoice, useTheme } from "./theme";
import { UNIT_LABELS, unitsChoice } from "./vocabulary";

/** Calls the page what its first heading says, or calls itself where it says what was found,
 * whenever that comes or changes. */
function useTitle() {
  useEffect(() => {
    const content = document.getElementById("content");
    if (!content) return;
    const call = () => {
      const first = content.querySelector("h1");
      const heading = first?.dataset.called ?? first?.textContent?.trim();
      const title = heading ? `${heading} · Amber Tally` : "Amber Tally";
      if (document.title !== title) document.title = title;
    };
    const watch = new MutationObserver(call);
    watch.observe(content, { childList: true, subtree: true, characterData: true });
    call();
    return () => watch.disconnect();
  }, []);
}

/** Takes the focus to another page's content, as a browser does for a page that it loads; what
 * a page focuses by itself stays so. */
function useFocus(pathname: string) {
  const before = useRef(pathname);
  useEffect(() => {
    if (before.current === pathname) return;
    before.current = pathname;
    const there = document.activeElement;
    if (there && there !== document.body && there.closest("#content input, [role=dialog]")) return;
    document.getElementById("content")?.focus({ preventScroll: true });
  }, [pathname]);
}

/** The frame of every page, with aids that it holds in its bar, and what stands in for a page
 * whose code is coming. */
export function Shell({ aids, waiting }: { aids: ReactNode; waiting: ReactNode }) {
  const { name } = useTheme();
  const [units, chooseUnits] = useChoice(unitsChoice);
  const school = useSchool();
  const { pathname } = useLocation();
  // Open where it was opened: whoever went on is done with it.
  const [moreAt, setMoreAt] = useState<string>();
  const more = moreAt === pathname;
  useTitle();
  useFocus(pathname);
  useEffect(keepApplication, []);
  const other = name === "light" ? "dark" : "light";
  const initials = school.data?.coach
    .split(/\s+/)
    .map((word) => word[0])
    .join("")
    .slice(0, 2);
  return (
    <>
      <a className={css.skip} href="#content">
        Skip to content
      </a>
      <header className={css.topbar}>
        <NavLink to="/players" className={css.mark} aria-label="Amber Tally, to the players">
          <svg viewBox="0 0 28 22" aria-hidden="true">
            <path d="M3 2v18M9 1v19M15 2v18M21 1v19M0 17 27 7" />
          </svg>
          <span>Amber Tally</span>
        </NavLink>
        <nav aria-label="Main" data-open={more}>
          <NavLink to="/today">Today</NavLink>
          <NavLink
            to="/players"
            className={() => (/^\/(players|sessions)/.test(pathname) ? "active" : "")}
          >
            Players
          </NavLink>
          <NavLink to="/bench">Bench</NavLink>
          <button
            type="button"
            className={css.more}
            aria-expanded={more}
            onClick={() => setMoreAt(more ? undefined : pathname)}
          >
            More
          </button>
          <div className={css.rest}>
            <NavLink to="/programmes">Programmes</NavLink>
            <NavLink to="/house-rules">
              <span className={css.wide}>House rules</span>
              <span className={css.narrow}>Rules</span>
            </NavLink>
            <NavLink to="/school">School</NavLink>
          </div>
        </nav>
        <div className={css.topbarRight}>
          <span className={css.school}>{school.data?.name}</span>
          {aids}
          <Select<Units>
            aria-label="Units"
            variant="borderless"
            value={units}
            onChange={chooseUnits}
            popupMatchSelectWidth={false}
            options={Object.entries(UNIT_LABELS).map(([value, label]) => ({ value, label }))}
          />
          <button
            type="button"
            className="plain"
            onClick={() => themeChoice.setState({ value: other })}
            title={`Use the ${other} theme`}
          >
            {name === "light" ? "Barn light" : "Day light"}
          </button>
          {initials && (
            <NavLink
              to="/account"
              className={css.initials}
              title={school.data?.coach}
              aria-label={`${initials}, the account of ${school.data?.coach}`}
            >
              {initials}
            </NavLink>
          )}
        </div>
      </header>
      <main id="content" tabIndex={-1} className={css.content}>
        <Suspense fallback={waiting}>
          <Outlet />
        </Suspense>
      </main>
      {school.data && <footer className={css.foot}>Amber Tally {school.data.version}</footer>}
    </>
  );
}
