// Links to a page that the player reads without signing in.

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Checkbox, Input, Modal } from "antd";
import { useState } from "react";
import { v7 as uuid } from "uuid";
import { answered, api } from "../../app/api";
import { useMe } from "../../app/asked";
import { keys } from "../../app/keys";
import { day } from "../../ui/day";
import { FormTrouble } from "../../ui/FormTrouble";
import { typed } from "../../ui/Measured";
import { Secret } from "../../ui/SecretOnce";

const ZONE = Intl.DateTimeFormat().resolvedOptions().timeZone;

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
          {[link.decisions && "decisions", link.sessions && "sessions"]
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

function MakeLink(props: { player: string; name: string; close: () => void; made: () => void }) {
  const { player, name, close, made } = props;
  const [id] = useState(() => uuid());
  const [decisions, setDecisions] = useState(true);
  const [sessions, setSessions] = useState(true);
  const [days, setDays] = useState("30");
  const make = useMutation({
    mutationFn: () =>
      answered(
        api.POST("/api/v1/players/{player}/links", {
          params: { path: { player } },
          body: { id, decisions, sessions, days: typed(days) ?? 0 },
        }),
      ),
    onSuccess: made,
  });
  const address = make.data && `${location.origin}/shared#${make.data.token}`;
  return (
    <Modal open onCancel={close} title={`A page for ${name}`} footer={null}>
      {address ? (
        <Secret text={address}>
          Whoever has this address can read the page. It is not shown again.
        </Secret>
      ) : (
        <form
          className="form"
          onSubmit={(event) => {
            event.preventDefault();
            make.mutate();
          }}
        >
          <Checkbox checked={decisions} onChange={(e) => setDecisions(e.target.checked)}>
            What was decided
          </Checkbox>
          <Checkbox checked={sessions} onChange={(e) => setSessions(e.target.checked)}>
            Which sessions there were
          </Checkbox>
          <label>
            Days that it opens
            <Input value={days} onChange={(e) => setDays(e.target.value)} inputMode="numeric" />
          </label>
          <FormTrouble error={make.error} />
          <Button type="primary" htmlType="submit" loading={make.isPending}>
            Make the link
          </Button>
        </form>
      )}
    </Modal>
  );
}
