// The clubs that a player carries.

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";
import { useState } from "react";
import { answered, api } from "../../app/api";
import { keys } from "../../app/keys";
import { useWords } from "../../app/vocabulary";
import { Gapping } from "../../record/Gapping";
import { BagForm } from "../../session/prepare/BagForm";
import { day } from "../../ui/day";
import { FormTrouble } from "../../ui/FormTrouble";
import { Loading, Trouble } from "../../ui/Notice";
import { said } from "../../ui/Said";
import css from "./PlayerPage.module.css";

export function Bag({ player }: { player: string }) {
  const words = useWords();
  const client = useQueryClient();
  const [adding, setAdding] = useState(false);
  const found = useQuery({
    queryKey: keys.player.bag(player),
    queryFn: () =>
      answered(api.GET("/api/v1/players/{player}/bag", { params: { path: { player } } })),
  });
  const take = useMutation({
    mutationFn: (club: string) =>
      answered(
        api.DELETE("/api/v1/players/{player}/bag/{club}", { params: { path: { player, club } } }),
      ),
    onSuccess: () => {
      client.invalidateQueries({ queryKey: keys.player.bag(player) });
      client.invalidateQueries({ queryKey: keys.prepare.all });
    },
  });
  if (found.isError) return <Trouble error={found.error} retry={found.refetch} />;
  if (!found.data || !words) return <Loading />;
  const order = words.vocabulary.clubs.map(({ key }) => key);
  const clubs = [...found.data].sort((a, b) => order.indexOf(a.club) - order.indexOf(b.club));
  return (
    <section aria-label="Bag">
      <Gapping player={player} words={words} />
      <h2 className="minor">Clubs that are noted</h2>
      {clubs.length === 0 && (
        <p className="quiet">
          No club is noted. With head, loft, length and flex noted, sessions can be told apart by
          what was hit, and a club that was outgrown is seen.
        </p>
      )}
      <ul className="rows">
        {clubs.map((club) => (
          <li key={club.id}>
            <div className="row-link">
              <span className={`row-name ${css.inBag}`}>
                {said(club.in_words, words)}
                <small className={css.note}>since {day(club.fitted_on, "UTC")}</small>
              </span>
              <span className="row-last">
                <button
                  type="button"
                  className="text-act"
                  onClick={() => take.mutate(club.id)}
                  disabled={take.isPending}
                >
                  Take out
                </button>
              </span>
            </div>
          </li>
        ))}
      </ul>
      <FormTrouble error={take.error} />
      <p className={css.addClub}>
        <Button onClick={() => setAdding(true)}>Add a club</Button>
      </p>
      <BagForm
        player={player}
        club="driver"
        open={adding}
        close={() => setAdding(false)}
        added={() => setAdding(false)}
        words={words}
      />
    </section>
  );
}
