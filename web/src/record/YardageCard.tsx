// The card for the pocket: carry by club, and by effort where it is known, in up to three airs.

import { Button } from "antd";
import { Link, useParams, useSearchParams } from "react-router";
import { useWords, type Words } from "../app/vocabulary";
import { CALM, type Conditions } from "../reach/address";
import { ConditionsForm, inWords } from "../reach/ConditionsForm";
import { FormTrouble } from "../ui/FormTrouble";
import { Loading } from "../ui/Notice";
import { airFromText, airToText } from "./air";
import { useGapping, usePlayerName } from "./queries";
import css from "./YardageCard.module.css";

/** Airs that one card holds. */
const MOST_AIRS = 3;

export function YardageCard() {
  const { player = "" } = useParams();
  const words = useWords();
  const [address, setAddress] = useSearchParams();
  const named = usePlayerName(player);
  const told = address.getAll("air").map(airFromText);
  const airs = told.filter((air) => air !== undefined).slice(0, MOST_AIRS);
  const shown = airs.length > 0 ? airs : [CALM];
  const set = (next: Conditions[]) => {
    const to = new URLSearchParams();
    for (const air of next) to.append("air", airToText(air));
    setAddress(to, { replace: true });
  };
  const first = useGapping(player, shown[0] ?? CALM);
  const second = useGapping(player, shown[1]);
  const third = useGapping(player, shown[2]);
  const columns = [first, second, third].slice(0, shown.length);
  if (!words || !named.data) return <Loading />;
  const trouble = columns.find((column) => column.isError);
  const bags = columns.map((column) => column.data?.read);
  const lead = bags[0];
  return (
    <div className={`page ${css.page}`}>
      <p className={`crumb ${css.aside}`}>
        <Link to={`/players/${player}/bag`}>{named.data.name}</Link>
      </p>
      <div className={`page-head ${css.aside}`}>
        <h1>Yardage card</h1>
        {lead && (
          <Button type="primary" onClick={() => window.print()}>
            Print
          </Button>
        )}
      </div>
      <div className={css.aside}>
        {shown.map((air, i) => (
          <div key={`air ${i + 1}`} className={css.air}>
            <ConditionsForm
              conditions={air}
              onChange={(next) => set(shown.map((was, at) => (at === i ? next : was)))}
              words={words}
              airOnly
            />
            {shown.length > 1 && (
              <button
                type="button"
                className="text-act"
                onClick={() => set(shown.filter((_, at) => at !== i))}
              >
                Leave out
              </button>
            )}
          </div>
        ))}
        {shown.length < MOST_AIRS && (
          <Button onClick={() => set([...shown, { ...CALM, temperature_c: 10 }])}>
            Another air
          </Button>
        )}
      </div>
      {trouble && <FormTrouble error={trouble.error} />}
      {!lead && first.isSuccess && (
        <p className="quiet">No club has a carry yet, so there is nothing to print.</p>
      )}
      {lead && (
        <table className={css.card}>
          <caption>
            {named.data.name} · carry, {words.symbol("distance")}
          </caption>
          <thead>
            <tr>
              <th scope="col">Club</th>
              {shown.map((air, i) => (
                <th scope="col" key={`air ${i + 1}`}>
                  {inWords(air, words, true)}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {lead.clubs.map(({ club }) => (
              <Rows key={club} club={club} bags={bags} words={words} />
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}

type Read = NonNullable<ReturnType<typeof useGapping>["data"]>["read"];

/** A club, and below it its part efforts. */
function Rows({ club, bags, words }: { club: string; bags: Read[]; words: Words }) {
  const label = words.club(club);
  const carry = (bag: Read) => bag?.clubs.find((of) => of.club === club)?.carry.value;
  const shown = (value?: number) => (value == null ? "–" : words.bare("distance", value));
  const efforts = (bags[0]?.efforts ?? []).filter((of) => of.club === club && of.share < 0.95);
  return (
    <>
      <tr>
        <th scope="row">{label}</th>
        {bags.map((bag, i) => (
          <td key={`air ${i + 1}`}>
            <b>{shown(carry(bag))}</b>
          </td>
        ))}
      </tr>
      {efforts.map(({ share }) => (
        <tr key={share} className={css.effort}>
          <th scope="row">{Math.round(share * 100)} % effort</th>
          {bags.map((bag, i) => (
            <td key={`air ${i + 1}`}>
              {shown(bag?.efforts.find((of) => of.club === club && of.share === share)?.carry)}
            </td>
          ))}
        </tr>
      ))}
    </>
  );
}
