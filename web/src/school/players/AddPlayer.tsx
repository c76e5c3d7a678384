import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Button, Checkbox, Input, Modal } from "antd";
import { type FormEvent, useState } from "react";
import { useNavigate } from "react-router";
import { v7 as uuid } from "uuid";
import { answered, api } from "../../app/api";
import { keys } from "../../app/keys";
import { FormTrouble } from "../../ui/FormTrouble";

export function AddPlayer({ open, close }: { open: boolean; close: () => void }) {
  const [id, setId] = useState(() => uuid());
  const [name, setName] = useState("");
  const [born, setBorn] = useState("");
  const [aim, setAim] = useState("");
  const [leftHanded, setLeftHanded] = useState(false);
  const queries = useQueryClient();
  const navigate = useNavigate();
  const add = useMutation({
    mutationFn: () =>
      answered(
        api.POST("/api/v1/players", {
          body: {
            id,
            name,
            born: born.trim() === "" ? null : Number(born),
            aim,
            left_handed: leftHanded,
          },
        }),
      ),
    onSuccess: () => {
      queries.invalidateQueries({ queryKey: keys.players });
      navigate(`/players/${id}`);
      setId(uuid());
      close();
    },
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    add.mutate();
  };
  return (
    <Modal open={open} onCancel={close} title="Add a player" footer={null} destroyOnHidden>
      <form onSubmit={submit} className="form">
        <label>
          Name
          <Input value={name} onChange={(e) => setName(e.target.value)} autoComplete="off" />
        </label>
        <label>
          Year of birth, if it matters
          <Input
            value={born}
            onChange={(e) => setBorn(e.target.value.replace(/\D/g, ""))}
            inputMode="numeric"
            autoComplete="off"
          />
        </label>
        <label>
          What they come for
          <Input value={aim} onChange={(e) => setAim(e.target.value)} autoComplete="off" />
        </label>
        <Checkbox checked={leftHanded} onChange={(e) => setLeftHanded(e.target.checked)}>
          Plays left-handed
        </Checkbox>
        <FormTrouble error={add.error} />
        <Button type="primary" htmlType="submit" loading={add.isPending}>
          Add
        </Button>
      </form>
    </Modal>
  );
}
