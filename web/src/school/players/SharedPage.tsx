// What a player reads without signing in: what their coach shares, for a while. The
// secret stands behind the # of the address, which browsers keep to themselves.

import { useMutation, useQuery } from "@tanstack/react-query";
import { Button } from "antd";
import { answered, api } from "../../app/api";
import { keys } from "../../app/keys";
import { ZONE } from "../../app/local";
import { TakeHome } from "../../report/TakeHome";
import sheet from "../../report/TakeHome.module.css";
import { day } from "../../ui/day";
import { FormTrouble } from "../../ui/FormTrouble";
import { Loading, Nothing } from "../../ui/Notice";
import { saveBlob } from "../../ui/save";
import css from "./SharedPage.module.css";

/** The secret of this page's address, as the server takes it. */
const secret = () => `Bearer ${location.hash.slice(1)}`;

export function SharedPage() {
  const found = useQuery({
    queryKey: keys.shared,
    queryFn: () =>
      answered(
        api.GET("/api/v1/shared", {
          headers: { authorization: secret() },
        }),
      ),
    retry: false,
  });
  if (found.isError) {
    return (
      <main className="page">
        <Nothing title="This page does not open">
          <p>{found.error.message}</p>
        </Nothing>
      </main>
    );
  }
  if (!found.data) return <Loading />;
  const { school, player, page, until, decisions, sessions } = found.data;
  return (
    <main className={page ? css.taken : "page narrow"}>
      {page ? (
        <>
          <TakeHome page={page} school={school} />
          <TakeAlong title={page.title} />
        </>
      ) : (
        <>
          <p className="crumb">{school}</p>
          <h1>{player}</h1>
        </>
      )}
      <p className={`quiet ${sheet.aside}`}>Shared by your coach until {day(until, ZONE)}.</p>
      {decisions && (
        <>
          <h2>What you decided together</h2>
          {decisions.length === 0 && <p className="quiet">Nothing yet.</p>}
          <ul className="decisions">
            {decisions.map(({ id, words, verdict, decided_at, recheck_on, done }) => (
              <li key={id}>
                <p className="decision-words">{words}</p>
                {verdict && <p>{verdict}</p>}
                <p className="quiet">
                  {day(decided_at, ZONE)}
                  {recheck_on && !done && `, to look at again on ${day(recheck_on, "UTC")}`}
                  {done && ", done with"}
                </p>
              </li>
            ))}
          </ul>
        </>
      )}
      {sessions && (
        <>
          <h2>Your sessions</h2>
          <ul className={`rows ${css.sharedSessions}`}>
            {sessions.map((s) => (
              <li key={s.id}>
                <b>{day(s.started_at, s.zone)}</b>
                <span>
                  {s.purpose} · {s.club.toLowerCase()}
                </span>
                <span>
                  {s.shots} {s.shots === 1 ? "shot" : "shots"}, {s.place}
                </span>
              </li>
            ))}
          </ul>
        </>
      )}
    </main>
  );
}

/** The page on paper, and its shots as a table. */
function TakeAlong({ title }: { title: string }) {
  const table = useMutation({
    mutationFn: async () => {
      const file = await answered(
        api.GET("/api/v1/shared/shots.csv", {
          headers: { authorization: secret() },
          parseAs: "blob",
        }),
      );
      saveBlob(file as unknown as Blob, `${title}.csv`);
    },
  });
  return (
    <div className={sheet.acts}>
      <Button onClick={() => window.print()}>Print, or save as PDF</Button>
      <Button loading={table.isPending} onClick={() => table.mutate()}>
        The shots as a table
      </Button>
      <FormTrouble error={table.error} />
    </div>
  );
}
