// The Page station: what the player takes home of a session.

import { useParams } from "react-router";
import { useWords } from "../app/vocabulary";
import { useLive, useSession } from "../session/queries";
import { SessionHead } from "../session/SessionHead";
import { Loading, Trouble } from "../ui/Notice";
import { PageEditor } from "./PageEditor";
import css from "./TakeHome.module.css";

export function SessionPage() {
  const { session = "" } = useParams();
  const words = useWords();
  const found = useSession(session);
  const live = useLive(session, found.data?.in_progress === false);
  if (found.isError && !found.data) return <Trouble error={found.error} retry={found.refetch} />;
  if (!found.data || !words) return <Loading />;
  const { player, id } = found.data;
  return (
    <>
      <div className={css.aside}>
        <SessionHead session={found.data} words={words} live={live} />
      </div>
      <PageEditor key={session} about={{ player, session: id }} words={words} />
    </>
  );
}
