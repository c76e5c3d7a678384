import { Button, Input, Modal } from "antd";
import { useState } from "react";
import { v7 as uuid } from "uuid";
import { FormTrouble } from "../ui/FormTrouble";
import { useBlock } from "./queries";

/** Names the block that the next shots go to. */
export function BlockForm(props: { session: string; open: boolean; close: () => void }) {
  const [id, setId] = useState(() => uuid());
  const [label, setLabel] = useState("");
  const block = useBlock(props.session);
  return (
    <Modal
      open={props.open}
      onCancel={props.close}
      title="Next block"
      footer={null}
      destroyOnHidden
    >
      <form
        className="form"
        onSubmit={(event) => {
          event.preventDefault();
          block.mutate(
            { id, label },
            {
              onSuccess: () => {
                setId(uuid());
                setLabel("");
                props.close();
              },
            },
          );
        }}
      >
        <label>
          What is tried in it
          <Input value={label} onChange={(e) => setLabel(e.target.value)} autoComplete="off" />
        </label>
        <FormTrouble error={block.error} />
        <Button type="primary" htmlType="submit" loading={block.isPending}>
          Begin the block
        </Button>
      </form>
    </Modal>
  );
}
