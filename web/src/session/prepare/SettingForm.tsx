// Where a session is held, in what weather, on what ground, with which ball.

import { AutoComplete, Select } from "antd";
import { useTemperature } from "../../app/temperature";
import type { Words } from "../../app/vocabulary";
import { Measured, typed } from "../../ui/Measured";
import type { SessionView } from "../queries";
import prepareCss from "./prepare.module.css";
import type { Preparation, Setting } from "./queries";

/** What is typed, as it is typed. */
export interface TypedSetting {
  place: string;
  /** "in", "out", or nothing while it is not noted. */
  roof: string;
  altitude: string;
  altitudeUnit: string;
  temperature: string;
  temperatureUnit: string;
  wind: string;
  windUnit: string;
  windFrom: string;
  ground: string;
  ball: string;
}

export const BALLS = [
  { value: "premium", label: "Premium ball" },
  { value: "competition", label: "Competition ball" },
  { value: "range", label: "Range ball" },
];

const WINDS = [
  { value: "0", label: "straight against" },
  { value: "45", label: "against, from the right" },
  { value: "90", label: "from the right" },
  { value: "135", label: "behind, from the right" },
  { value: "180", label: "straight behind" },
  { value: "225", label: "behind, from the left" },
  { value: "270", label: "from the left" },
  { value: "315", label: "against, from the left" },
];

const GROUNDS = [
  { value: "", label: "Not noted" },
  { value: "fairway 0.2", label: "Soft fairway" },
  { value: "fairway 0.5", label: "Average fairway" },
  { value: "fairway 0.8", label: "Firm fairway" },
  { value: "green 0.5", label: "Green" },
];

const ROOFS = [
  { value: "", label: "Not noted" },
  { value: "in", label: "Indoors" },
  { value: "out", label: "Outdoors" },
];

export function roofOf(indoors?: boolean | null): string {
  return indoors == null ? "" : indoors ? "in" : "out";
}

type Temperature = ReturnType<typeof useTemperature>;

export function freshSetting(words: Words, temperature: Temperature): TypedSetting {
  const metric = words.units !== "mph_yd";
  return {
    place: "",
    roof: "",
    altitude: "0",
    altitudeUnit: metric ? "m" : "ft",
    temperature: temperature.field(15),
    temperatureUnit: temperature.unit,
    wind: "",
    windUnit: words.suffix("speed"),
    windFrom: "0",
    ground: "",
    ball: "premium",
  };
}

export function settingOf(
  session: SessionView,
  words: Words,
  temperature: Temperature,
): TypedSetting {
  const { altitude_m, temperature_c, wind, ground } = session.conditions;
  return {
    ...freshSetting(words, temperature),
    place: session.place,
    roof: roofOf(session.indoors),
    altitude: words.field("height", altitude_m),
    temperature: temperature.field(temperature_c),
    wind: wind ? words.field("speed", wind.speed_mps) : "",
    windFrom: String(wind?.from_deg ?? 0),
    ground: ground ? `${ground.surface} ${ground.firmness}` : "",
    ball: session.ball,
  };
}

export function asSetting(typedIn: TypedSetting): Setting {
  const [surface, firmness] = typedIn.ground.split(" ");
  return {
    place: typedIn.place,
    indoors: typedIn.roof === "" ? null : typedIn.roof === "in",
    altitude: { value: typed(typedIn.altitude), unit: typedIn.altitudeUnit },
    temperature: { value: typed(typedIn.temperature), unit: typedIn.temperatureUnit },
    wind:
      typedIn.wind.trim() === "" ? null : { value: typed(typedIn.wind), unit: typedIn.windUnit },
    wind_from_deg: typedIn.wind.trim() === "" ? null : Number(typedIn.windFrom),
    ground:
      surface === "fairway" || surface === "green" ? { surface, firmness: Number(firmness) } : null,
    ball: typedIn.ball,
  };
}

interface Props {
  typedIn: TypedSetting;
  change: (part: Partial<TypedSetting>) => void;
  places: Preparation["places"];
  words: Words;
}

export function SettingForm({ typedIn, change, places, words }: Props) {
  const temperature = useTemperature(words.units);
  const choosePlace = (name: string) => {
    const known = places.find((place) => place.name === name);
    change(
      known
        ? {
            place: name,
            roof: roofOf(known.indoors),
            altitude: words.field("height", known.altitude),
            altitudeUnit: words.suffix("height"),
          }
        : { place: name },
    );
  };
  return (
    <>
      <div>
        <label htmlFor="place">Place</label>
        <AutoComplete
          id="place"
          value={typedIn.place}
          onChange={choosePlace}
          options={places.map((place) => ({ value: place.name }))}
          placeholder="Such as barn, bay 2"
        />
      </div>
      <div className={prepareCss.two}>
        <Measured
          label="Height above the sea"
          unitLabel="Unit of height"
          value={typedIn.altitude}
          onValue={(altitude) => change({ altitude })}
          unit={typedIn.altitudeUnit}
          onUnit={(altitudeUnit) => change({ altitudeUnit })}
          units={{ m: "m", ft: "ft" }}
        />
        <Measured
          label="Temperature"
          unitLabel="Unit of temperature"
          value={typedIn.temperature}
          onValue={(value) => change({ temperature: value })}
          unit={typedIn.temperatureUnit}
          onUnit={(temperatureUnit) => {
            temperature.choose(temperatureUnit);
            change({ temperatureUnit });
          }}
          units={temperature.labels}
        />
        <Measured
          label="Wind, if any"
          unitLabel="Unit of wind"
          value={typedIn.wind}
          onValue={(wind) => change({ wind })}
          unit={typedIn.windUnit}
          onUnit={(windUnit) => change({ windUnit })}
          units={{ mph: "mph", kmh: "km/h", mps: "m/s" }}
        />
        <div>
          <label htmlFor="wind-from">It comes</label>
          <Select
            id="wind-from"
            value={typedIn.windFrom}
            disabled={typedIn.wind.trim() === ""}
            onChange={(windFrom) => change({ windFrom })}
            options={WINDS}
          />
        </div>
        <div>
          <label htmlFor="ground">Ground</label>
          <Select
            id="ground"
            value={typedIn.ground}
            onChange={(ground) => change({ ground })}
            options={GROUNDS}
          />
        </div>
        <div>
          <label htmlFor="roof">Roof</label>
          <Select
            id="roof"
            value={typedIn.roof}
            onChange={(roof) => change({ roof })}
            options={ROOFS}
          />
        </div>
        <div>
          <label htmlFor="ball">Ball</label>
          <Select
            id="ball"
            value={typedIn.ball}
            onChange={(ball) => change({ ball })}
            options={BALLS}
          />
        </div>
      </div>
    </>
  );
}
