// How far two devices agree on the shots that both reported.

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Select } from "antd";
import { lazy, Suspense, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { answered, api, type Quantity, type Schemas } from "../app/api";
import { keys } from "../app/keys";
import { useWords, type Words } from "../app/vocabulary";
import { FormTrouble } from "../ui/FormTrouble";
import { Loading, Nothing, Trouble } from "../ui/Notice";
import { said } from "../ui/Said";
import { SchoolHead } from "../ui/SchoolHead";
import { signed } from "../ui/signed";
import css from "./AgreementPage.module.css";
import { useDevices } from "./DevicesPage";

const AgreementChart = lazy(() => import("./AgreementChart"));

export function AgreementPage() {
  const words = useWords();
  const devices = useDevices();
  const [params, setParams] = useSearchParams();
  const pairs = useQuery({
    queryKey: keys.devicePairs,
    queryFn: () => answered(api.GET("/api/v1/device-pairs")),
  });
  if (devices.isError && !devices.data)
    return <Trouble error={devices.error} retry={devices.refetch} />;
  if (!devices.data || !pairs.data || !words) return <Loading />;
  // The two that have most to say about each other, until the coach chooses.
  const most = pairs.data[0];
  const options = devices.data.map((device) => ({ value: device.id, label: device.name }));
  const first = params.get("first") ?? most?.first ?? options[0]?.value;
  const second =
    params.get("second") ?? most?.second ?? options.find((o) => o.value !== first)?.value;
  const choose = (part: Record<string, string>) =>
    setParams({ ...(first && { first }), ...(second && { second }), ...part }, { replace: true });
  return (
    <div className="page">
      <SchoolHead />
      {first && second ? (
        <>
          <div className={css.agreementOf}>
            <label htmlFor="judged">How far</label>
            <Select
              id="judged"
              value={second}
              onChange={(value) => choose({ second: value })}
              options={options.filter((o) => o.value !== first)}
            />
            <label htmlFor="compared">agrees with</label>
            <Select
              id="compared"
              value={first}
              onChange={(value) => choose({ first: value })}
              options={options.filter((o) => o.value !== second)}
            />
          </div>
          <Compared key={`${first}${second}`} first={first} second={second} words={words} />
        </>
      ) : (
        <Nothing title="Two devices are needed">
          <p>
            Add them under <Link to="/school/devices">Devices</Link>, and hit some balls in front of
            both at once.
          </p>
        </Nothing>
      )}
    </div>
  );
}

function Compared({ first, second, words }: { first: string; second: string; words: Words }) {
  const found = useQuery({
    queryKey: keys.agreement(first, second),
    queryFn: () => answered(api.GET("/api/v1/agreement", { params: { query: { first, second } } })),
  });
  const [quantity, setQuantity] = useState<Quantity>();
  if (found.isError) return <Trouble error={found.error} retry={found.refetch} />;
  if (!found.data) return <Loading />;
  const { agreements, pairs, first_name, second_name } = found.data;
  const shown = agreements.find((a) => a.quantity === quantity) ?? agreements[0];
  if (!shown) {
    return (
      <Nothing title={`${pairs} ${pairs === 1 ? "shot has" : "shots have"} a reading of both`}>
        <p>
          At least three are needed with the same value. Put both devices on one session and hit;
          they are paired by time.
        </p>
      </Nothing>
    );
  }
  return (
    <>
      <h1 data-called="Agreement of two devices" className="verdict">
        {said(shown.sentence, words)}
      </h1>
      <p className="detail">
        {shown.pairs.length} paired shots; limits hold {Math.round(shown.share * 100)} % of the
        differences (Bland and Altman 1986), over {shown.sessions}{" "}
        {shown.sessions === 1 ? "session" : "sessions"}. Offsets adopted so far are included.
      </p>
      <div className={css.agreementColumns}>
        <Suspense fallback={<div className="chart-space" />}>
          <AgreementChart told={shown} first={first_name} second={second_name} words={words} />
        </Suspense>
        <AgreementTable
          agreements={agreements}
          shown={shown.quantity}
          choose={setQuantity}
          first={first}
          second={second}
          words={words}
        />
      </div>
    </>
  );
}

interface TableProps {
  agreements: Schemas["Agreement"][];
  shown: Quantity;
  choose: (quantity: Quantity) => void;
  first: string;
  second: string;
  words: Words;
}

function AgreementTable({ agreements, shown, choose, first, second, words }: TableProps) {
  const queries = useQueryClient();
  const adopt = useMutation({
    mutationFn: (quantity: Quantity) =>
      answered(
        api.POST("/api/v1/devices/{device}/adopted-offsets", {
          params: { path: { device: second } },
          body: { against: first, quantity },
        }),
      ),
    onSuccess: () => queries.invalidateQueries(),
  });
  return (
    <div>
      <table className="figures">
        <thead>
          <tr>
            <th scope="col">Value</th>
            <th scope="col">Bias</th>
            <th scope="col">Limits</th>
            <th scope="col">n</th>
            <th scope="col">
              <span className="sr-only">Offset</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {agreements.map((a) => {
            const { label, dimension } = words.quantity(a.quantity);
            return (
              <tr
                key={a.quantity}
                className={a.quantity === shown ? `chosen ${css.chosen}` : undefined}
              >
                <th scope="row">
                  <button
                    type="button"
                    className={a.quantity === shown ? `plain chosen ${css.chosen}` : "link"}
                    onClick={() => choose(a.quantity)}
                  >
                    {label}
                  </button>
                </th>
                <td>
                  {signed(a.bias.value, dimension, words)} <small>{words.symbol(dimension)}</small>
                </td>
                <td className="second">
                  {signed(a.lower.value, dimension, words)} to{" "}
                  {signed(a.upper.value, dimension, words)}
                </td>
                <td className="second">{a.bias.n}</td>
                <td>
                  {a.known_well && !(a.bias.low <= 0 && a.bias.high >= 0) && (
                    <Button
                      size="small"
                      loading={adopt.isPending && adopt.variables === a.quantity}
                      onClick={() => adopt.mutate(a.quantity)}
                    >
                      Adopt as offset
                    </Button>
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <FormTrouble error={adopt.error} />
      {adopt.isSuccess && (
        <p role="status">Adopted. It is added to the device’s values from now on, everywhere.</p>
      )}
    </div>
  );
}
