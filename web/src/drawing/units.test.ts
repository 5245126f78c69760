import { describe, expect, it } from "vitest";
import {
  areaWords,
  METRIC,
  pressureUnit,
  sensible,
  temperatureUnit,
  told,
  volume,
  type Units,
} from "./units";

const YARD: Units = { pressure: "psi", temperature: "°F", volume: "fl oz", length: "in", hours: "12" };

describe("units", () => {
  it("turns by the defined factors: 1 inch 25.4 mm, 1 psi 6.894757 kPa, 0 °C 32 °F", () => {
    expect(pressureUnit(YARD).from(1)).toBeCloseTo(6.894757, 4);
    expect(temperatureUnit(YARD).to(20)).toBeCloseTo(68, 9);
    expect(temperatureUnit(YARD).from(104)).toBeCloseTo(40, 9);
    for (const x of [20, 80, 250])
      expect(pressureUnit(YARD).from(pressureUnit(YARD).to(x))).toBeCloseTo(x, 9);
  });
  it("says figures with sensible digits and never with an exponent", () => {
    expect([0.0341, 0.341, 3.41, 34.1, 341, 3412].map((x) => sensible(x))).toEqual([
      "0.034",
      "0.34",
      "3.4",
      "34",
      "341",
      "3410",
    ]);
    expect(sensible(100)).toBe("100");
    expect(sensible(1e9)).not.toContain("e");
  });
  it("counts drops only as far as somebody would count them", () => {
    expect(volume(0.5, 0.05, { ...METRIC, volume: "drops" })).toBe("10 drops");
    expect(volume(30, 0.05, { ...METRIC, volume: "drops" })).toBe("30 mL");
  });
  it("turns the figures of a sentence, ranges too, and leaves the rest", () => {
    expect(told("0.8–1.1 bar, 5 to 12 cm, at 20 °C and 50 %; 12 drops", YARD)).toBe(
      "12–16 psi, 2.0 to 4.7 in, at 68 °F and 50 %; 12 drops",
    );
    expect(told("below -5 °C", YARD)).toBe("below 23 °F");
    expect(told("over 120 cm² with 2 mL", YARD)).toBe("over 120 cm² with 0.068 fl oz");
    const text = "0.8 bar, 5 cm, 20 °C, 3 mL";
    expect(told(text, METRIC)).toBe(text);
  });
  it("says where an area is not given", () => {
    expect(areaWords([null])).toBe("area not given");
    expect(areaWords([120, 80], METRIC)).toBe("200 cm²");
    expect(areaWords([120, null], METRIC)).toBe("120 cm², and more that is not given");
  });
});
