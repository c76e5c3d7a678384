// Tokens with which scripts speak in the name of the one who is signed in.

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Checkbox, Input, Modal, Select } from "antd";
import { useState } from "react";
import { v7 as uuid } from "uuid";
import { answered, api } from "../../app/api";
import { keys } from "../../app/keys";
import { ZONE } from "../../app/local";
import { day } from "../../ui/day";
import { FormTrouble } from "../../ui/FormTrouble";
import { typed } from "../../ui/Measured";
import { Loading, Trouble } from "../../ui/Notice";
import { Secret } from "../../ui/SecretOnce";
import css from "./AccountPage.module.css";
import { ROLES, type Role } from "./queries";

/** From the most to the least. */
const ORDER: Role[] = ["owner", "coach", "assistant"];

export function Scripts({ role }: { role: Role }) {
  const queries = useQueryClient();
  const found = useQuery({
    queryKey: keys.scriptTokens,
    queryFn: () => answered(api.GET("/api/v1/me/script-tokens")),
  });
  const [making, setMaking] = useState(false);
  const end = useMutation({
    mutationFn: (token: string) =>
      answered(api.DELETE("/api/v1/me/script-tokens/{token}", { params: { path: { token } } })),
    onSettled: () => queries.invalidateQueries({ queryKey: keys.scriptTokens }),
  });
  if (found.isError) return <Trouble error={found.error} retry={found.refetch} />;
  if (!found.data) return <Loading />;
  return (
    <>
      <p>
        A program of yours asks the API in your name, with a token that you can take back.{" "}
        <button type="button" className="link" onClick={() => setMaking(true)}>
          Make a token
        </button>
      </p>
      {found.data.length > 0 && (
        <ul className="rows">
          {found.data.map((token) => (
            <li key={token.id} className={css.token}>
              <span className="row-name">{token.name}</span>
              <p className="quiet">
                {ROLES[token.role]}, {token.changes ? "reads and changes" : "reads only"}, until{" "}
                {day(token.until, ZONE)},{" "}
                {token.used_at ? `last used ${day(token.used_at, ZONE)}` : "never used"}{" "}
                <button type="button" className="link" onClick={() => end.mutate(token.id)}>
                  Take back
                </button>
              </p>
            </li>
          ))}
        </ul>
      )}
      <FormTrouble error={end.error} />
      {making && <MakeToken most={role} close={() => setMaking(false)} />}
    </>
  );
}

function MakeToken({ most, close }: { most: Role; close: () => void }) {
  const queries = useQueryClient();
  const [id] = useState(() => uuid());
  const [name, setName] = useState("");
  const [role, setRole] = useState(most);
  const [changes, setChanges] = useState(false);
  const [days, setDays] = useState("90");
  const [password, setPassword] = useState("");
  const make = useMutation({
    mutationFn: () =>
      answered(
        api.POST("/api/v1/me/script-tokens", {
          body: { id, name, role, changes, days: typed(days) ?? 0, password },
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: keys.scriptTokens }),
  });
  return (
    <Modal open onCancel={close} title="A token for a script" footer={null}>
      {make.data ? (
        <Secret text={make.data.token}>
          Give it to the script now: it is not shown again. The script sends it as “Authorization:
          Bearer” and the token.
        </Secret>
      ) : (
        <form
          className="form"
          onSubmit={(event) => {
            event.preventDefault();
            make.mutate();
          }}
        >
          <label>
            What it is for
            <Input
              value={name}
              onChange={(e) => setName(e.target.value)}
              placeholder="Such as weekly export"
              autoComplete="off"
            />
          </label>
          <label htmlFor="token-role">It may do as much as</label>
          <Select<Role>
            id="token-role"
            value={role}
            onChange={setRole}
            options={ORDER.slice(ORDER.indexOf(most)).map((value) => ({
              value,
              label: ROLES[value],
            }))}
          />
          <Checkbox checked={changes} onChange={(e) => setChanges(e.target.checked)}>
            It may change what is kept, not only read it
          </Checkbox>
          <label>
            Days until it ends
            <Input value={days} onChange={(e) => setDays(e.target.value)} inputMode="numeric" />
          </label>
          <label>
            Your password
            <Input
              type="password"
              value={password}
              onChange={(e) => setPassword(e.target.value)}
              autoComplete="current-password"
            />
          </label>
          <FormTrouble error={make.error} />
          <Button type="primary" htmlType="submit" loading={make.isPending}>
            Make it
          </Button>
        </form>
      )}
    </Modal>
  );
}
