// Players who do not come any more: out of the way, with nothing lost.

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";
import { answered, api } from "../../app/api";
import { useMe } from "../../app/asked";
import { ZONE } from "../../app/local";
import { day } from "../../ui/day";
import { FormTrouble } from "../../ui/FormTrouble";
import css from "./PlayerPage.module.css";

function useArchive(player: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (archived: boolean) =>
      answered(
        api.PUT("/api/v1/players/{player}/archived", {
          params: { path: { player } },
          body: { archived },
        }),
      ),
    // They stand in lists all over.
    onSuccess: () => queries.invalidateQueries(),
  });
}

export function Archive({ player }: { player: string }) {
  const archive = useArchive(player);
  const me = useMe();
  if (me.data?.role === "assistant") return null;
  return (
    <section aria-labelledby="archive">
      <h2 id="archive">Comes no more</h2>
      <p className="quiet">
        Puts them out of the list and out of Today. Everything is kept and can still be read; they
        are back in one tap.
      </p>
      <FormTrouble error={archive.error} />
      <Button loading={archive.isPending} onClick={() => archive.mutate(true)}>
        Put away
      </Button>
    </section>
  );
}

export function Past({ player, since }: { player: string; since: string }) {
  const archive = useArchive(player);
  const zone = ZONE;
  return (
    <p className={css.past} role="status">
      Put away since {day(since, zone)}: no session can begin.{" "}
      <button
        type="button"
        className="link"
        disabled={archive.isPending}
        onClick={() => archive.mutate(false)}
      >
        Bring back
      </button>
    </p>
  );
}
