// The code and the square that open a board on another screen.

import { Button, Modal, QRCode } from "antd";
import { useChoice } from "../../app/choice";
import { ZONE } from "../../app/local";
import { UNIT_LABELS, unitsChoice } from "../../app/vocabulary";
import { day } from "../../ui/day";
import { FormTrouble } from "../../ui/FormTrouble";
import { useBoardOf } from "./queries";
import css from "./ShowBoard.module.css";

/** A code as it is read aloud: in two groups. */
const grouped = (code: string) => `${code.slice(0, 3)} ${code.slice(3)}`;

const LOCAL = ["localhost", "127.0.0.1", "[::1]"];

export function ShowBoard({ session, close }: { session: string; close: () => void }) {
  const [units] = useChoice(unitsChoice);
  const board = useBoardOf(session);
  const open = board.found.data?.open;
  const address = `${location.origin}/board`;
  return (
    <Modal open onCancel={close} title="A board at the mat" footer={null}>
      {open ? (
        <div className={css.open}>
          <QRCode
            value={`${address}#${open.code}`}
            size={208}
            bordered={false}
            color="#1d2129"
            bgColor="#ffffff"
          />
          <div>
            <p>
              Scan the square with a phone or tablet, or open <b>{address}</b> there and type
            </p>
            <p className={css.code}>{grouped(open.code)}</p>
            <p className="quiet">
              Shows this session’s numbers in {UNIT_LABELS[open.units]}, on as many screens as you
              like, without the player’s name. Ends with the session, at the latest on{" "}
              {day(open.until, ZONE)}.
            </p>
            {LOCAL.includes(location.hostname) && (
              <p className={css.local}>
                This page is open at “{location.hostname}”, which only this computer can reach. For
                another screen, open it at the computer’s name or address in your network first.
              </p>
            )}
            <p className={css.acts}>
              <a className="link" href={`/board#${open.code}`} target="_blank" rel="noreferrer">
                Open it here in another tab
              </a>
              <button type="button" className="link" onClick={() => board.open.mutate(units)}>
                New code
              </button>
              <button type="button" className="link" onClick={() => board.close.mutate()}>
                Close the board
              </button>
            </p>
          </div>
        </div>
      ) : (
        <>
          <p>
            A second screen for the player: the great number, the aim, the tally and the rest,
            readable from five metres. Whoever has its code sees the shown numbers of this session,
            and nothing else.
          </p>
          <Button
            type="primary"
            loading={board.open.isPending || board.found.isPending}
            onClick={() => board.open.mutate(units)}
          >
            Open a board
          </Button>
        </>
      )}
      <FormTrouble error={board.open.error ?? board.close.error ?? board.found.error} />
    </Modal>
  );
}
