// Links to a page that the player reads without signing in.

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api } from "../../app/api";
import { useMe } from "../../app/asked";
import { keys } from "../../app/keys";
import { ZONE } from "../../app/local";
import { MakeLink } from "../../report/MakeLink";
import { day } from "../../ui/day";
import { FormTrouble } from "../../ui/FormTrouble";

export function Links({ player, name }: { player: string; name: string }) {
  const me = useMe();
  const queryKey = keys.player.links(player);
  const found = useQuery({
    queryKey,
    queryFn: () =>
      answered(api.GET("/api/v1/players/{player}/links", { params: { path: { player } } })),
    enabled: me.data?.may_keep === true,
  });
  const [making, setMaking] = useState(false);
  const queries = useQueryClient();
  const revoke = useMutation({
    mutationFn: (link: string) =>
      answered(
        api.DELETE("/api/v1/players/{player}/links/{link}", {
          params: { path: { player, link } },
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey }),
  });
  if (!found.data) return null;
  return (
    <>
      <h2>A page for {name}</h2>
      <p>
        What you share, to read without signing in.{" "}
        <button type="button" className="link" onClick={() => setMaking(true)}>
          Make a link
        </button>
      </p>
      {found.data.map((link) => (
        <p key={link.id}>
          {[link.page && "a page", link.decisions && "decisions", link.sessions && "sessions"]
            .filter(Boolean)
            .join(" and ")}{" "}
          until {day(link.until, ZONE)}{" "}
          <button type="button" className="link" onClick={() => revoke.mutate(link.id)}>
            Revoke
          </button>
        </p>
      ))}
      <FormTrouble error={revoke.error} />
      {making && (
        <MakeLink
          player={player}
          name={name}
          close={() => setMaking(false)}
          made={() => queries.invalidateQueries({ queryKey })}
        />
      )}
    </>
  );
}
