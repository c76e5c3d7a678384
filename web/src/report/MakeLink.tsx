// A link that the player opens without signing in, for as many days as the coach says.

import { useMutation } from "@tanstack/react-query";
import { Button, Checkbox, Input, Modal } from "antd";
import { useState } from "react";
import { v7 as uuid } from "uuid";
import { answered, api } from "../app/api";
import { FormTrouble } from "../ui/FormTrouble";
import { typed } from "../ui/Measured";
import { Secret } from "../ui/SecretOnce";

interface Props {
  player: string;
  name: string;
  /** The written page that it opens. */
  page?: string;
  close: () => void;
  made?: () => void;
}

export function MakeLink({ player, name, page, close, made }: Props) {
  const [id] = useState(() => uuid());
  const [decisions, setDecisions] = useState(page === undefined);
  const [sessions, setSessions] = useState(page === undefined);
  const [days, setDays] = useState("30");
  const make = useMutation({
    mutationFn: () =>
      answered(
        api.POST("/api/v1/players/{player}/links", {
          params: { path: { player } },
          body: { id, decisions, sessions, days: typed(days) ?? 0, ...(page && { page }) },
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
          {page && <p>The page as it is written, with its shots as a table. Beside it:</p>}
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
