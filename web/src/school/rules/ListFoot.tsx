// What is done with a list of the house's own: more rows, kept, left as it was, or ours again.

import { Button } from "antd";
import { FormTrouble } from "../../ui/FormTrouble";

interface Props {
  error: Error | null;
  /** What each act is called. */
  acts: { add: string; save: string; leave: string; ours: string };
  add: () => void;
  /** Whether anything was changed and is not kept yet. */
  edited: boolean;
  saving: boolean;
  save: () => void;
  leave: () => void;
  /** Whether the list is the school's own. */
  own: boolean;
  takeOurs: () => void;
}

export function ListFoot(props: Props) {
  const { acts, edited } = props;
  return (
    <>
      <FormTrouble error={props.error} />
      <div className="plan-foot">
        <Button onClick={props.add}>{acts.add}</Button>
        {edited && (
          <>
            <Button type="primary" loading={props.saving} onClick={props.save}>
              {acts.save}
            </Button>
            <Button onClick={props.leave}>{acts.leave}</Button>
          </>
        )}
        {props.own && !edited && (
          <button type="button" className="link" onClick={props.takeOurs}>
            {acts.ours}
          </button>
        )}
      </div>
    </>
  );
}
