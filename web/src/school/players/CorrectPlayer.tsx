// A player's facts, put right.

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Modal } from "antd";
import { useState } from "react";
import { answered, api } from "../../app/api";
import { useMe } from "../../app/asked";
import { type Facts, PlayerForm } from "./PlayerForm";

export function CorrectPlayer({ player, facts }: { player: string; facts: Facts }) {
  const [open, setOpen] = useState(false);
  const me = useMe();
  const queries = useQueryClient();
  const correct = useMutation({
    mutationFn: (right: Facts) =>
      answered(api.PUT("/api/v1/players/{player}", { params: { path: { player } }, body: right })),
    onSuccess: () => {
      // The name stands on every screen.
      queries.invalidateQueries();
      setOpen(false);
    },
  });
  if (me.data?.role === "assistant") return null;
  return (
    <>
      <button type="button" className="text-act" onClick={() => setOpen(true)}>
        Put right
      </button>
      <Modal
        open={open}
        onCancel={() => setOpen(false)}
        title="Put this player’s facts right"
        footer={null}
        destroyOnHidden
      >
        <PlayerForm
          facts={facts}
          act="Put right"
          error={correct.error}
          sending={correct.isPending}
          send={correct.mutate}
        />
      </Modal>
    </>
  );
}
