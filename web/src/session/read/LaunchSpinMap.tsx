// The session's shots on the map of launch and spin.

import { useQuery } from "@tanstack/react-query";
import { lazy, memo, Suspense, useMemo } from "react";
import { answered, api, type Schemas } from "../../app/api";
import { keys } from "../../app/keys";
import type { Words } from "../../app/vocabulary";
import { said } from "../../ui/Said";
import type { SessionRead } from "./queries";
import readCss from "./read.module.css";

const MapChart = lazy(() => import("../../ui/MapChart"));

interface Props {
  read: SessionRead;
  words: Words;
  selected: number | undefined;
  onSelect: (index: number) => void;
}

export const LaunchSpinMap = memo(function LaunchSpinMap({
  read,
  words,
  selected,
  onSelect,
}: Props) {
  const session = read.session.id;
  const map = useQuery({
    queryKey: keys.session.launchSpin(session, words.units, read.club),
    queryFn: ({ signal }) =>
      answered(
        api.GET("/api/v1/sessions/{session}/launch-spin", {
          params: { path: { session }, query: { units: words.units, club: read.club } },
          signal,
        }),
      ),
    placeholderData: (before) => before,
    retry: false,
  });
  const data = map.data;
  const shots = useMemo(() => placed(data, read), [data, read]);
  return (
    <section aria-labelledby="launch-spin" className="launch-spin">
      <h2 id="launch-spin" className="minor">
        Launch and spin
      </h2>
      {data ? (
        <>
          <p className={readCss.unclaimedSaid}>{said(data.sentence, words)}</p>
          <Suspense fallback={<div className="chart-space" />}>
            <MapChart
              title={`Carry at ${words.show("speed", data.ball_speed)} ball speed; amber: ${data.saved ? "the player’s own window" : "the window"}${data.calculated_spin > 0 ? "; ×: spin only calculated" : ""}`}
              map={data.map}
              deliverable={data.deliverable}
              best={data.target}
              shots={shots}
              words={words}
              height={340}
              selected={selected === undefined ? undefined : selected + 1}
              onPick={(number) => onSelect(number - 1)}
            />
          </Suspense>
          {data.note && <p className="quiet">{said(data.note, words)}</p>}
        </>
      ) : (
        <p className="quiet">{map.error?.message ?? ""}</p>
      )}
    </section>
  );
});

/** The map's shots as Read counts them: a shot that came or was moved between the two
 * answers is found by what it is, and one that Read does not have yet waits for it. */
export function placed(map: Schemas["SessionMap"] | undefined, read: SessionRead) {
  const position = new Map(read.shots.map((shot, i) => [shot.id, i]));
  return (map?.shots ?? []).flatMap((shot) => {
    const i = position.get(map?.of[shot.index] ?? "");
    if (i === undefined) return [];
    return {
      number: i + 1,
      launch: shot.launch_angle_deg,
      spin: shot.spin_rate_rpm,
      standing: read.report.shots[i]?.standing ?? shot.standing,
      place: shot.place,
      calculated: shot.calculated_spin,
    };
  });
}
