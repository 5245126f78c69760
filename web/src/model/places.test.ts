import { expect, test } from "vitest";
import type { Assessment, Step } from "../api/client";
import { maskedBy, patchFrom } from "./places";

const coat = (id: string, beside: string[] = []) =>
  ({ kind: "coat", id, zones: ["z"], beside }) as unknown as Step;
const steps = [coat("one"), coat("two", ["one"]), coat("over"), coat("three", ["one", "two"])];
const coats = { "one~z": { coverage: 0.3 }, "two~z": { coverage: 0.2 } } as unknown as Assessment["coats"];
const from = (i: number) => patchFrom(steps, steps[i] as never, "z", coats);

test("patches beside each other stand beside each other", () => {
  expect([from(0), from(1), from(2), from(3)]).toEqual([0, 0.3, 0, 0.5]);
});

test("a mask that says where it is keeps its place free until it comes off", () => {
  const fitting = (id: string, action: string, place?: string) =>
    ({ kind: "fitting", id, action, place, zones: ["z"] }) as unknown as Step;
  const all = [
    fitting("on", "mask", "edges"),
    coat("a"),
    fitting("off", "unmask"),
    coat("b"),
    fitting("x", "mask"),
    coat("c"),
  ];
  expect([1, 3, 5].map((i) => maskedBy(all, all[i] as never, "z"))).toEqual([true, false, false]);
});
