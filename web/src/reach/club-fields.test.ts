import { describe, expect, it } from "vitest";
import type { Schemas } from "../app/api";
import { CALM } from "./address";
import { clubQuestion, fieldsFromAddress, fieldsToAddress } from "./club-fields";

const build = {
  static_loft_deg: 10.5,
  club_length_m: 1.15,
  head_mass_g: 203,
  forgiveness_pct: 100,
};
const word = {
  key: "driver",
  label: "Driver",
  build,
  delivery: { club_speed: 43, angle_of_attack_deg: -1, dynamic_loft_deg: 12.5 },
} as Schemas["ClubWord"];

describe("what is set of two clubs", () => {
  it("comes back from the address, and what is no number is left out", () => {
    const address = new URLSearchParams();
    fieldsToAddress({ speed: 44.7, tee: -0.004 }, address);
    address.set("loft", "steep");
    expect(fieldsFromAddress(address)).toEqual({ speed: 44.7, tee: -0.004 });
  });

  it("stands before the player's own, and the other club follows the club of now", () => {
    const own = {
      build: { ...build, static_loft_deg: 9 },
      own: { delivery: { ...word.delivery, club_speed: 50 }, scatter: [0.012, 0.008] },
    } as Schemas["DeliveryView"];
    const asked = clubQuestion(
      word,
      [0.01, 0.007],
      own,
      { attack: 2, now_length: 1.1, other_loft: 12 },
      CALM,
    );
    expect(asked.delivery).toMatchObject({ club_speed: 50, angle_of_attack_deg: 2 });
    expect(asked.scatter_toe).toBe(0.012);
    expect(asked.now).toMatchObject({ club_length_m: 1.1, static_loft_deg: 9 });
    expect(asked.other).toMatchObject({ club_length_m: 1.1, static_loft_deg: 12 });
  });
});
