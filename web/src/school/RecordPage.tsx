// Who saw children's records, took records out and erased them; and what is past its time.

import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { useMe } from "../account/queries";
import { answered, api } from "../app/api";
import { day } from "../ui/day";
import { Loading, Nothing, Trouble } from "../ui/Notice";
import { SchoolHead } from "./SchoolHead";

const ZONE = Intl.DateTimeFormat().resolvedOptions().timeZone;

export function RecordPage() {
  const me = useMe();
  const found = useQuery({
    queryKey: ["audit"],
    queryFn: () => answered(api.GET("/api/v1/audit")),
    enabled: me.data?.may_own === true,
  });
  if (me.data && !me.data.may_own) {
    return (
      <div className="page">
        <SchoolHead />
        <Nothing title="For owners of the school">
          <p>The record of who saw and took what is theirs to read.</p>
        </Nothing>
      </div>
    );
  }
  if (found.isError) return <Trouble error={found.error} retry={found.refetch} />;
  if (!found.data) return <Loading />;
  const { entries, past, keep_years } = found.data;
  return (
    <div className="page">
      <SchoolHead />
      <div className="page-head">
        <div>
          <h1>Record</h1>
          <p className="quiet">
            Who read children’s records, took records out, erased them, or changed who may do what.
          </p>
        </div>
      </div>
      {past.length > 0 && (
        <>
          <h2>Past their time</h2>
          <p>
            Your house rule keeps records {keep_years} years after a player’s last session. Take out
            and erase what is older:
          </p>
          <ul className="rows">
            {past.map(({ id, name, last_session }) => (
              <li key={id}>
                <Link to={`/players/${id}`} className="row-link">
                  <span className="row-name">{name}</span>
                  <span className="row-aim">last here on {day(last_session, ZONE)}</span>
                </Link>
              </li>
            ))}
          </ul>
        </>
      )}
      {entries.length === 0 ? (
        <Nothing title="Nothing to tell yet">
          <p>Reading a child’s records is the first thing that will stand here.</p>
        </Nothing>
      ) : (
        <ul className="rows audit">
          {entries.map((entry, i) => (
            <li key={i}>
              <time dateTime={entry.at}>
                {day(entry.at, ZONE)}, {new Date(entry.at).toLocaleTimeString("en-GB").slice(0, 5)}
              </time>
              <b>{entry.person}</b>
              <span>
                {entry.what}
                {entry.player && ` of ${entry.player}`}
                {entry.about && <small> {entry.about}</small>}
              </span>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
