import { expect, test } from "vitest";
import type { Assessment, Step } from "../api/client";
import { patchFrom } from "./places";

const coat = (id: string, beside: string[] = []) =>
  ({ kind: "coat", id, zones: ["z"], beside }) as unknown as Step;
const steps = [coat("one"), coat("two", ["one"]), coat("over"), coat("three", ["one", "two"])];
const coats = { "one~z": { coverage: 0.3 }, "two~z": { coverage: 0.2 } } as unknown as Assessment["coats"];
const from = (i: number) => patchFrom(steps, steps[i] as never, "z", coats);

test("patches beside each other stand beside each other", () => {
  expect([from(0), from(1), from(2), from(3)]).toEqual([0, 0.3, 0, 0.5]);
});
