import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { BuildOut, Changed, Edit } from "./client";
import { applyChanged } from "./changed";
import { BuildStore } from "./store";

type Body = {
  base_revision: number;
  command_id: string;
  times: string;
  edits?: Edit[];
  label?: string;
  dry_run?: boolean;
  last?: boolean;
};
type Answer = { data?: unknown; error?: unknown; response: { status: number } };
const server = vi.hoisted(() => ({
  get: vi.fn<() => Promise<Answer>>(),
  post: vi.fn<(path: string, sent: { body: Body }) => Promise<Answer>>(),
}));
vi.mock("./client", () => ({
  api: { GET: server.get, POST: server.post },
  plainWords: (all: { what: string }[] | undefined) => (all ?? []).map((p) => p.what).join("; "),
}));

const kept = new Map<string, string>();
const KEY = "emvar-unsent-tug~this-tab";

function build(revision: number, names: string[]): BuildOut {
  const steps = names.map((name) => ({ id: name, name, kind: "coat", zones: ["hull"] }));
  const each = <T>(make: (name: string) => T) => Object.fromEntries(names.map((n) => [n, make(n)]));
  return {
    id: "tug",
    revision,
    history: { undo: null, redo: null },
    times: "plan",
    scheduled: false,
    plan: { build: { name: "Tug" }, zones: [{ id: "hull" }], steps },
    assessment: {
      times: each(() => ({ start_min: 0, end_min: 10 })),
      coats: Object.fromEntries(names.map((n) => [`${n}~hull`, { film_um: 1 }])),
      seams: Object.fromEntries(
        names.map((n) => [`${n}~hull~base`, { zone_id: "hull", upper_step: n, verdict: "wait" }]),
      ),
      cups: each(() => ({})),
      notes: [],
      remarks: [],
      stories: [],
      score: {},
      end_min: 10,
    },
  } as unknown as BuildOut;
}

function changed(revision: number, order: string[], part: Partial<Changed> = {}): Changed {
  return {
    revision,
    order,
    head: {},
    steps: {},
    history: { undo: "x", redo: null },
    times: {},
    coats: {},
    coats_gone: [],
    seams: {},
    seams_gone: [],
    cups: {},
    notes: [],
    remarks: [],
    stories: [],
    score: {},
    end_min: 10,
    partial: null,
    ...part,
  } as unknown as Changed;
}
const ok = (data: unknown): Answer => ({ data, response: { status: 200 } });
const bodies = () => server.post.mock.calls.map(([, sent]) => sent.body);
const rename = (value: string): Edit[] => [{ edit: "set_field", step_id: "a", field: "name", value }];

beforeEach(() => {
  vi.useFakeTimers();
  kept.clear();
  vi.stubGlobal("localStorage", {
    getItem: (k: string) => kept.get(k) ?? null,
    setItem: (k: string, v: string) => kept.set(k, v),
    removeItem: (k: string) => kept.delete(k),
    key: (i: number) => [...kept.keys()][i] ?? null,
    get length() {
      return kept.size;
    },
  });
  vi.stubGlobal("sessionStorage", { getItem: () => "this-tab", setItem: () => undefined });
  server.get.mockReset().mockResolvedValue(ok(build(1, ["a", "b"])));
  server.post.mockReset();
});
afterEach(() => vi.useRealTimers());

async function loaded() {
  const store = new BuildStore("tug");
  await store.load();
  return store;
}

it("a build that is opened while the server is away is there once it is back", async () => {
  server.get
    .mockRejectedValueOnce(new TypeError("no connection"))
    .mockResolvedValueOnce({
      error: { problems: [{ where: "data", what: "the disk is full" }] },
      response: { status: 503 },
    })
    .mockResolvedValue(ok(build(1, ["a"])));
  const store = new BuildStore("tug");
  const there = store.load();
  await vi.advanceTimersByTimeAsync(10);
  expect(store.snapshot().away).toBe("Emvar does not answer");
  await vi.advanceTimersByTimeAsync(1600);
  expect(store.snapshot().away).toBe("the disk is full");
  await vi.runAllTimersAsync();
  await there;
  expect([store.snapshot().away, store.snapshot().build!.revision]).toEqual([null, 1]);
});

describe("an answer that comes in part", () => {
  const part = changed(2, ["a", "b"], { partial: { zone: "hull", steps: ["a"] } } as Partial<Changed>);

  it("is followed by the rest of it", async () => {
    const store = await loaded();
    server.post.mockResolvedValueOnce(ok(part));
    server.get.mockResolvedValue(ok(build(2, ["a", "b", "rest"])));
    await store.edit("one", rename("A"));
    await vi.runAllTimersAsync();
    expect(store.snapshot().build!.plan.steps!.map((s) => s.id)).toEqual(["a", "b", "rest"]);
  });

  it("leaves the rest aside where another edit came in between", async () => {
    const store = await loaded();
    server.post.mockResolvedValueOnce(ok(part)).mockResolvedValueOnce(ok(changed(3, ["a"])));
    server.get.mockResolvedValue(ok(build(2, ["a", "b", "stale"])));
    await store.edit("one", rename("A"));
    await store.edit("two", rename("B")); // before the rest was asked for
    await vi.runAllTimersAsync();
    expect([store.snapshot().build!.revision, store.snapshot().build!.plan.steps!.map((s) => s.id)]).toEqual([
      3,
      ["a"],
    ]);
  });
});

describe("edits on their way", () => {
  it("are sent one after the other, each on what the one before made", async () => {
    const store = await loaded();
    server.post
      .mockResolvedValueOnce(ok(changed(2, ["a", "b"])))
      .mockResolvedValueOnce(ok(changed(3, ["a", "b"])));
    const both = [store.edit("one", rename("A")), store.edit("two", rename("B"))];
    expect(store.savedSnapshot()).toBe("saving");
    expect(await Promise.all(both)).toEqual([{ ok: true }, { ok: true }]);
    expect(bodies().map((b) => [b.base_revision, b.label])).toEqual([
      [1, "one"],
      [2, "two"],
    ]);
    await vi.runAllTimersAsync();
    expect([store.savedSnapshot(), kept.get(KEY)]).toEqual(["saved", undefined]);
  });

  it("are sent again under the same id until the server answers, and are kept in the browser meanwhile", async () => {
    const store = await loaded();
    server.post
      .mockRejectedValueOnce(new TypeError("no connection"))
      .mockResolvedValueOnce({ error: {}, response: { status: 503 } })
      .mockResolvedValueOnce(ok(changed(2, ["a", "b"])));
    const sent = store.edit("one", rename("A"));
    await vi.advanceTimersByTimeAsync(10);
    expect(store.savedSnapshot()).toBe("waiting");
    expect(JSON.parse(kept.get(KEY)!)).toMatchObject([{ label: "one", edits: rename("A") }]);
    await vi.runAllTimersAsync();
    expect(await sent).toEqual({ ok: true });
    expect(new Set(bodies().map((b) => b.command_id)).size).toBe(1);
    expect(kept.has(KEY)).toBe(false);
  });

  it("that a reload cut off are taken up again", async () => {
    const first = await loaded();
    server.post.mockRejectedValue(new TypeError("no connection"));
    void first.edit("one", rename("A"));
    await vi.advanceTimersByTimeAsync(10);
    const id = bodies()[0]!.command_id;
    server.post.mockReset().mockResolvedValue(ok(changed(2, ["a", "b"])));
    const second = new BuildStore("tug");
    await second.load();
    await vi.advanceTimersByTimeAsync(10);
    expect(bodies()[0]).toMatchObject({ command_id: id, label: "one" });
    expect(kept.has(KEY)).toBe(false);
  });

  it("go on top of somebody else's edit that came first", async () => {
    const store = await loaded();
    server.post
      .mockResolvedValueOnce({ error: build(7, ["a", "b", "c"]), response: { status: 409 } })
      .mockResolvedValueOnce(ok(changed(8, ["a", "b", "c"])));
    expect(await store.edit("one", rename("A"))).toEqual({ ok: true });
    expect(bodies().map((b) => b.base_revision)).toEqual([1, 7]);
    expect(store.snapshot().build!.plan.steps!.map((s) => s.id)).toEqual(["a", "b", "c"]);
  });

  it("whose first answer was lost are answered with the whole build, and that is shown", async () => {
    const store = await loaded();
    server.post.mockRejectedValueOnce(new TypeError("the answer was lost")).mockResolvedValueOnce({
      data: build(2, ["a", "b", "split"]),
      response: { status: 208 },
    });
    const sent = store.edit("split", [{ edit: "split_step" }]);
    await vi.runAllTimersAsync();
    expect(await sent).toEqual({ ok: true });
    const { build: now } = store.snapshot();
    expect(now!.plan.steps!.map((s) => s.id)).toEqual(["a", "b", "split"]);
    expect(Object.keys(now!.assessment.coats)).toContain("split~hull");
  });

  it("of two tabs do not overwrite each other, and those of a tab that is gone are taken over", async () => {
    kept.set(
      "emvar-unsent-tug~gone",
      JSON.stringify([{ command_id: "from-the-other", label: "theirs", way: "edits", edits: [] }]),
    );
    server.post.mockRejectedValue(new TypeError("no connection"));
    const store = await loaded();
    void store.edit("ours", rename("A"));
    await vi.advanceTimersByTimeAsync(10);
    const waiting = JSON.parse(kept.get(KEY)!) as { label: string }[];
    expect(waiting.map((w) => w.label)).toEqual(["theirs", "ours"]);
    expect([...kept.keys()]).toEqual([KEY]);
    server.post.mockReset().mockResolvedValue(ok(changed(2, ["a", "b"])));
    await vi.runAllTimersAsync();
    expect(bodies().map((b) => b.command_id)[0]).toBe("from-the-other");
  });

  it("undo what is one's own: what somebody else did in between is looked at first", async () => {
    const store = await loaded();
    const theirs = { ...build(7, ["a", "b"]), history: { undo: "their change", redo: null } };
    server.post.mockResolvedValueOnce({ error: theirs, response: { status: 409 } });
    const outcome = await store.undo();
    expect(outcome).toMatchObject({ ok: false });
    expect((outcome as { why: string }).why).toContain("their change");
    expect(server.post).toHaveBeenCalledTimes(1);
    server.post.mockResolvedValueOnce(ok(changed(8, ["a", "b"])));
    expect(await store.undo()).toEqual({ ok: true }); // now it is known what is undone
  });

  it("undo what is one's own from under what another window made", async () => {
    const store = await loaded();
    const theirs = { ...build(7, ["a", "b"]), history: { undo: "mine", redo: null, own: true } };
    server.post.mockResolvedValueOnce({ error: theirs, response: { status: 409 } });
    server.post.mockResolvedValueOnce(ok(changed(8, ["a", "b"])));
    expect(await store.undo()).toEqual({ ok: true });
    expect(bodies().map((b) => [b.base_revision, b.last])).toEqual([
      [1, false],
      [7, false],
    ]);
  });

  it("undo the last of all where one's own cannot be taken from under it, once that was said", async () => {
    const store = await loaded();
    const no = { problems: [{ where: "undo", what: "“theirs” builds on it" }] };
    server.post.mockResolvedValueOnce({ error: no, response: { status: 422 } });
    expect(await store.undo()).toEqual({ ok: false, why: "“theirs” builds on it" });
    server.post.mockResolvedValueOnce(ok(changed(2, ["a", "b"])));
    await store.undo();
    server.post.mockResolvedValueOnce(ok(changed(3, ["a", "b"])));
    await store.undo();
    expect(bodies().map((b) => b.last)).toEqual([false, true, false]);
  });

  it("beside the plan wait in the same queue, with the same word for it", async () => {
    const store = await loaded();
    server.post
      .mockRejectedValueOnce(new TypeError("no connection"))
      .mockResolvedValueOnce(ok({ revision: 1, scheduled: true }));
    const sent = store.beside("record", { entries: [{ step: "a" }], now_at: null });
    await vi.advanceTimersByTimeAsync(10);
    expect(store.savedSnapshot()).toBe("waiting");
    expect(JSON.parse(kept.get(KEY)!)).toMatchObject([{ way: "record", body: { entries: [{ step: "a" }] } }]);
    await vi.runAllTimersAsync();
    expect(await sent).toMatchObject({ ok: true, shown: { scheduled: true } });
    expect(new Set(bodies().map((b) => b.command_id)).size).toBe(1);
    expect(server.post.mock.calls[0]![0]).toBe("/api/builds/{build_id}/sittings/record");
  });

  it("that are refused say why and change nothing", async () => {
    const store = await loaded();
    server.post.mockResolvedValueOnce({
      error: { problems: [{ where: "name", what: "is too long" }] },
      response: { status: 422 },
    });
    expect(await store.edit("one", rename("A"))).toEqual({ ok: false, why: "is too long" });
    expect([store.snapshot().refused, store.snapshot().build!.revision]).toEqual(["is too long", 1]);
    store.heard();
    expect(store.snapshot().refused).toBeNull();
  });

  it("made from the plan wait for what is on its way", async () => {
    const store = await loaded();
    const head = { build: { name: "Tug, second" } };
    server.post
      .mockResolvedValueOnce(ok(changed(2, ["a", "b"], { head } as Partial<Changed>)))
      .mockResolvedValueOnce(ok(changed(3, ["a", "b"])));
    const first = store.edit("one", rename("A"));
    const seen: string[] = [];
    const second = store.edit("two", (plan) => {
      seen.push(plan.build.name);
      return [];
    });
    await vi.runAllTimersAsync();
    await Promise.all([first, second]);
    expect(seen).toEqual(["Tug, second"]);
  });
});

describe("a look at a change", () => {
  it("keeps nothing until asked to, and can be put back", async () => {
    const store = await loaded();
    server.post.mockResolvedValue(ok(changed(1, ["b", "a"])));
    await store.look("swap", rename("A"));
    expect(store.snapshot().preview!.build.plan.steps!.map((s) => s.id)).toEqual(["b", "a"]);
    expect(store.snapshot().build!.plan.steps!.map((s) => s.id)).toEqual(["a", "b"]);
    expect(bodies()[0]!.dry_run).toBe(true);
    store.putBack();
    expect(store.snapshot().preview).toBeNull();
    await store.look("swap", rename("A"));
    server.post.mockResolvedValue(ok(changed(2, ["b", "a"])));
    await store.keep();
    expect(bodies().at(-1)).toMatchObject({ dry_run: false, label: "swap" });
    expect(store.snapshot().preview).toBeNull();
    expect(store.snapshot().build!.revision).toBe(2);
  });
});

describe("a build judged at its sittings", () => {
  const scheduled = () => ({ ...build(1, ["a", "b"]), times: "schedule", scheduled: true }) as BuildOut;
  it("is judged by the clock that was chosen for it, and edits are answered by the same", async () => {
    server.get.mockResolvedValue(ok(scheduled()));
    const store = await loaded();
    server.post.mockResolvedValueOnce(ok(changed(2, ["a", "b"])));
    await store.edit("one", rename("A"));
    expect(bodies()[0]!.times).toBe("schedule");
    expect(store.snapshot().build!.times).toBe("schedule");
  });
  it("stays at the clock that was chosen while an earlier question was on its way", async () => {
    const store = await loaded();
    let late: (answer: Answer) => void = () => {};
    server.get.mockReturnValueOnce(new Promise((take) => (late = take)));
    const looked = store.load(); // another view opens
    await vi.runAllTimersAsync();
    server.post.mockResolvedValueOnce(ok(scheduled()));
    await store.turn("schedule");
    late(ok(build(1, ["a", "b"])));
    await looked;
    expect(store.snapshot().build!.times).toBe("schedule");
  });
  it("is looked at with a change by the same clock", async () => {
    server.get.mockResolvedValue(ok(scheduled()));
    const store = await loaded();
    server.post.mockResolvedValueOnce(ok(changed(1, ["b", "a"])));
    await store.look("swap", rename("A"));
    expect(bodies()[0]!.times).toBe("schedule");
    expect(store.snapshot().preview!.build.times).toBe("schedule");
  });
  it("turns to the other clock once nothing is on its way", async () => {
    const store = await loaded();
    server.post.mockResolvedValueOnce(ok(changed(2, ["a", "b"])));
    const sent = store.edit("one", rename("A"));
    server.post.mockResolvedValueOnce(ok({ ...scheduled(), revision: 2 }));
    const turned = store.turn("schedule");
    await vi.runAllTimersAsync();
    await Promise.all([sent, turned]);
    expect(server.post.mock.calls[1]![0]).toBe("/api/builds/{build_id}/clock");
    expect([store.snapshot().build!.times, store.snapshot().build!.revision]).toEqual(["schedule", 2]);
  });
});

describe("an answer", () => {
  it("takes what is gone out of everything", () => {
    const next = applyChanged(
      build(1, ["a", "b"]),
      changed(2, ["b"], { coats_gone: ["a~hull"], seams_gone: ["a~hull~base"] }),
    );
    for (const part of [next.assessment.times, next.assessment.cups])
      expect(Object.keys(part)).toEqual(["b"]);
    expect(Object.keys(next.assessment.coats)).toEqual(["b~hull"]);
    expect(Object.keys(next.assessment.seams)).toEqual(["b~hull~base"]);
    expect(next.plan.steps!.map((s) => s.id)).toEqual(["b"]);
  });

  it("that comes in part replaces the seams of its own steps and zone only", () => {
    const next = applyChanged(
      build(1, ["a", "b"]),
      changed(2, ["a", "b"], {
        partial: { zone: "hull", steps: ["a"] },
        seams: { "a~hull~b": { zone_id: "hull", upper_step: "a", verdict: "sound" } },
      } as unknown as Partial<Changed>),
    );
    expect(Object.keys(next.assessment.seams).sort()).toEqual(["a~hull~b", "b~hull~base"]);
  });

  it("leaves what it was made from as it was", () => {
    const before = build(1, ["a", "b"]);
    const copy = structuredClone(before);
    applyChanged(before, changed(2, ["b"], { coats_gone: ["a~hull"] }));
    expect(before).toEqual(copy);
  });
});
