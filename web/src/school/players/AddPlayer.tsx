import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Modal } from "antd";
import { useState } from "react";
import { useNavigate } from "react-router";
import { v7 as uuid } from "uuid";
import { answered, api } from "../../app/api";
import { keys } from "../../app/keys";
import { type Facts, PlayerForm } from "./PlayerForm";

const NOBODY: Facts = {
  name: "",
  born: null,
  aim: "",
  left_handed: false,
  height: null,
  mass: null,
  level: null,
};

export function AddPlayer({ open, close }: { open: boolean; close: () => void }) {
  const [id, setId] = useState(() => uuid());
  const queries = useQueryClient();
  const navigate = useNavigate();
  const add = useMutation({
    mutationFn: (facts: Facts) => answered(api.POST("/api/v1/players", { body: { id, ...facts } })),
    onSuccess: () => {
      queries.invalidateQueries({ queryKey: keys.players });
      navigate(`/players/${id}`);
      setId(uuid());
      close();
    },
  });
  return (
    <Modal open={open} onCancel={close} title="Add a player" footer={null} destroyOnHidden>
      <PlayerForm
        facts={NOBODY}
        act="Add"
        error={add.error}
        sending={add.isPending}
        send={add.mutate}
      />
    </Modal>
  );
}
