// Who trains today: one tap from here to the first swing.

import { Button } from "antd";
import { Link } from "react-router";
import type { Schemas } from "../app/api";
import { FormTrouble } from "../ui/FormTrouble";
import { checkIn } from "./check-in";
import { useBeginRun, useTrainingToday } from "./queries";

export function TrainingToday() {
  const found = useTrainingToday();
  if (!found.data || found.data.length === 0) return null;
  return (
    <>
      <h2>Training today</h2>
      <ul className="rows">
        {found.data.map((trains) => (
          <li key={trains.player}>
            <Trains trains={trains} />
          </li>
        ))}
      </ul>
    </>
  );
}

function Trains({ trains }: { trains: Schemas["TrainsToday"] }) {
  const { player, player_name, title, level, day_for, place, session } = trains;
  const begin = useBeginRun(player);
  return (
    <>
      <div className="row-link">
        <span className="row-name">
          <Link to={`/players/${player}/programme`}>{player_name}</Link>
        </span>
        <span className="row-aim">{title}</span>
        <span className="row-count">
          {level && (
            <>
              <b>{level}</b>
              <small>level</small>
            </>
          )}
        </span>
        <span className="row-last">
          {session ? (
            <Link to={`/sessions/${session}/run`}>Go on</Link>
          ) : day_for.kind === "check_in" ? (
            <Link to={checkIn(player)}>Prepare the check-in</Link>
          ) : (
            <Button
              type="primary"
              loading={begin.isPending}
              onClick={() => begin.mutate({ protocol: day_for.protocol, place })}
            >
              Begin
            </Button>
          )}
        </span>
      </div>
      <FormTrouble error={begin.error} />
    </>
  );
}
