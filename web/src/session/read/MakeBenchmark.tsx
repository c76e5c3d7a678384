// One tap: what was hit here, all of it or one block, is the benchmark from now on.

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Button, Select } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { v7 as uuid } from "uuid";
import { answered, api } from "../../app/api";
import { keys } from "../../app/keys";
import { day } from "../../ui/day";
import { FormTrouble } from "../../ui/FormTrouble";
import type { SessionView } from "../queries";
import css from "./MakeBenchmark.module.css";

export function MakeBenchmark({ session, club }: { session: SessionView; club: string }) {
  const [block, setBlock] = useState("");
  const queries = useQueryClient();
  const of = session.blocks.find((b) => b.id === block)?.label ?? session.purpose;
  const make = useMutation({
    mutationFn: () =>
      answered(
        api.POST("/api/v1/players/{player}/benchmarks", {
          params: { path: { player: session.player } },
          body: {
            id: uuid(),
            session: session.id,
            club,
            block: block || null,
            name: `${of} of ${day(session.started_at, session.zone)}`,
          },
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: keys.player.all(session.player) }),
  });
  if (make.isSuccess)
    return (
      <p className="quiet" role="status">
        It is a benchmark now. <Link to={`/players/${session.player}`}>See the record</Link>
      </p>
    );
  return (
    <div className={css.make}>
      <Button loading={make.isPending} onClick={() => make.mutate()}>
        Make this the benchmark
      </Button>
      {session.blocks.length > 1 && (
        <Select
          aria-label="What of it"
          variant="borderless"
          popupMatchSelectWidth={false}
          value={block}
          onChange={setBlock}
          options={[
            { value: "", label: "the whole session" },
            ...session.blocks.map((b) => ({ value: b.id, label: `“${b.known_as}” alone` })),
          ]}
        />
      )}
      <FormTrouble error={make.error} />
    </div>
  );
}
