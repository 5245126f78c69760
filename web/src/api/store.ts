/**
 * One build on the screen: what the server last said, edits on their way, and a preview if one is being looked at.
 * Edits are sent one after the other, each with a command id, and again until the server answers; those not yet
 * answered are kept in the browser, so nothing typed is lost on a reload or while the connection is down.
 */
import { useSyncExternalStore } from "react";
import { api, problemWords, type BuildOut, type Changed, type Edit, type Plan } from "./client";

export type Saved = "saved" | "saving" | "waiting";
type Times = BuildOut["times"];
type Outcome = { ok: true } | { ok: false; why: string };
type Command = { command_id: string; label: string; way: "edits" | "undo" | "redo"; edits: Edit[] };
type Queued = Command & { settle: (outcome: Outcome) => void };

export type Shot = {
  build: BuildOut | null;
  preview: { build: BuildOut; label: string; edits: Edit[] } | null;
  refused: string | null;
  missing: string | null;
};

const RETRY_MS = 1500;

export function applyChanged(build: BuildOut, c: Changed): BuildOut {
  const steps = new Map((build.plan.steps ?? []).map((s) => [s.id, s]));
  for (const [id, step] of Object.entries(c.steps)) steps.set(id, step);
  const merge = <T>(old: Record<string, T>, more: Record<string, T>, gone: string[]) => {
    const next = { ...old };
    for (const id of gone) Reflect.deleteProperty(next, id);
    return Object.assign(next, more);
  };
  const a = build.assessment;
  const plan = { ...build.plan, ...c.head, steps: c.order.map((id) => steps.get(id)!) };
  const next = { ...build, revision: c.revision, history: c.history, plan };
  if (c.partial) {
    // The first part of the answer: one zone's next steps. The others keep what they had until the rest comes.
    const { zone, steps } = c.partial;
    const worked = new Set(steps);
    const gone: string[] = [];
    for (const id in a.seams) {
      const s = a.seams[id]!;
      if (s.zone_id === zone && worked.has(s.upper_step)) gone.push(id);
    }
    return {
      ...next,
      assessment: {
        ...a,
        times: { ...a.times, ...c.times },
        coats: { ...a.coats, ...c.coats },
        seams: merge(a.seams, c.seams, gone),
      },
    };
  }
  const here = new Set(c.order);
  const left = Object.keys(a.times).filter((id) => !here.has(id)); // of steps that are gone
  return {
    ...next,
    assessment: {
      times: merge(a.times, c.times, left),
      coats: merge(a.coats, c.coats, c.coats_gone),
      seams: merge(a.seams, c.seams, c.seams_gone),
      cups: merge(a.cups, c.cups, left),
      notes: c.notes,
      remarks: c.remarks,
      stories: c.stories,
      score: c.score,
      end_min: c.end_min,
    },
  };
}

export class BuildStore {
  private shot: Shot = { build: null, preview: null, refused: null, missing: null };
  // Apart from the rest: whether an edit is on its way is told in one word, and redraws no more than that.
  private savedNow: Saved = "saved";
  private listeners = new Set<() => void>();
  private queue: Queued[] = [];
  private busy = false;
  private key: string;

  /** `wants`: at whose times the build is judged; auto: at those of its sittings, where they are planned. */
  constructor(
    readonly id: string,
    private wants: Times | "auto" = "plan",
  ) {
    this.key = `emvar-unsent-${id}`;
  }

  subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
  snapshot = () => this.shot;
  savedSnapshot = () => this.savedNow;

  private setSaved(saved: Saved) {
    this.savedNow = saved;
    for (const listener of this.listeners) listener();
  }

  private set(part: Partial<Shot>) {
    this.shot = { ...this.shot, ...part };
    for (const listener of this.listeners) listener();
  }

  private ask(times: Times | "auto") {
    return api.GET("/api/builds/{build_id}", { params: { path: { build_id: this.id }, query: { times } } });
  }
  /** The build at other times; where it has no sittings yet, at its own. */
  async judgeAt(times: Times) {
    this.wants = times;
    await this.idle();
    const { data } = await this.ask(times);
    if (data && !this.queue.length) this.set({ build: data, preview: null });
  }

  async load() {
    const { data, error } = await this.ask(this.wants);
    if (!data) {
      this.set({ missing: problemWords(error?.problems) });
      return;
    }
    this.set({ build: data });
    const unsent = JSON.parse(localStorage.getItem(this.key) ?? "[]") as Command[];
    for (const command of unsent) this.push(command);
  }

  /** The rest of an answer that came in part; left aside if another edit has come in between. */
  private async rest() {
    const revision = this.shot.build!.revision;
    await new Promise((r) => setTimeout(r, 30));
    if (this.queue.length || this.shot.build!.revision !== revision) return;
    const { data } = await this.ask(this.shot.build!.times);
    if (data && data.revision === this.shot.build!.revision) this.set({ build: data });
  }

  private looksAt: { zone: string; step: string } | null = null;
  /** What is chosen is answered first. */
  lookAt(at: { zone: string; step: string } | null) {
    this.looksAt = at;
  }

  /** Edits that write a whole list or object are made from the plan as it is then: give a function for these. */
  async edit(label: string, edits: Edit[] | ((plan: Plan) => Edit[])): Promise<Outcome> {
    if (typeof edits === "function") {
      await this.idle();
      edits = edits(this.shot.build!.plan);
    }
    return this.push({ command_id: crypto.randomUUID(), label, way: "edits", edits });
  }
  /** Once nothing is on its way; at once where the connection is down. */
  private async idle() {
    while (this.queue.length && this.savedNow !== "waiting") await new Promise((r) => setTimeout(r, 10));
  }
  undo() {
    return this.push({ command_id: crypto.randomUUID(), label: "undo", way: "undo", edits: [] });
  }
  redo() {
    return this.push({ command_id: crypto.randomUUID(), label: "redo", way: "redo", edits: [] });
  }

  /** The build at the plan's own times, whatever it is shown at. */
  async own(): Promise<BuildOut | null> {
    const shown = this.shot.build;
    return shown && shown.times !== "plan" ? ((await this.ask("plan")).data ?? null) : shown;
  }

  /** The build as it would be with these edits, at the plan's own times; nothing is kept. */
  async tryOut(label: string, edits: Edit[]): Promise<BuildOut | null> {
    const shown = this.shot.build;
    if (!shown) return null;
    const base = await this.own();
    if (base?.revision !== shown.revision) return null;
    const { data } = await api.POST("/api/builds/{build_id}/edits", {
      params: { path: { build_id: this.id } },
      body: {
        base_revision: base.revision,
        command_id: crypto.randomUUID(),
        label,
        edits,
        dry_run: true,
        times: "plan",
      },
    });
    return data && this.shot.build === shown ? applyChanged(base, data) : null;
  }
  async look(label: string, edits: Edit[]) {
    const build = await this.tryOut(label, edits);
    if (build) this.set({ preview: { build, label, edits } });
  }
  putBack() {
    if (this.shot.preview) this.set({ preview: null });
  }
  async keep() {
    const preview = this.shot.preview;
    if (!preview) return;
    await this.edit(preview.label, preview.edits);
    this.putBack();
  }
  /** Tells the user something that needs no answer. */
  say(words: string) {
    this.set({ refused: words });
  }
  heard() {
    this.set({ refused: null });
  }

  private push(command: Command): Promise<Outcome> {
    return new Promise((settle) => {
      this.queue.push({ ...command, settle });
      this.remember();
      void this.work();
    });
  }
  private remember() {
    const unsent = this.queue.map(({ command_id, label, way, edits }) => ({ command_id, label, way, edits }));
    if (unsent.length) localStorage.setItem(this.key, JSON.stringify(unsent));
    else localStorage.removeItem(this.key);
  }

  private async work() {
    if (this.busy) return;
    this.busy = true;
    this.setSaved("saving");
    while (this.queue.length && this.shot.build) {
      const command = this.queue[0]!;
      const outcome = await this.send(command);
      if (outcome === null) {
        this.setSaved("waiting");
        await new Promise((r) => setTimeout(r, RETRY_MS));
        continue;
      }
      this.queue.shift();
      this.remember();
      if (!outcome.ok) this.set({ refused: outcome.why });
      command.settle(outcome);
    }
    this.busy = false;
    this.setSaved("saved");
  }

  /** null: no answer, try again. */
  private async send(command: Command): Promise<Outcome | null> {
    for (;;) {
      const build = this.shot.build!;
      const params = { path: { build_id: this.id } };
      const ids = { base_revision: build.revision, command_id: command.command_id, times: build.times };
      try {
        const answer =
          command.way === "edits"
            ? await api.POST("/api/builds/{build_id}/edits", {
                params,
                body: {
                  ...ids,
                  label: command.label,
                  edits: command.edits,
                  dry_run: false,
                  near: this.looksAt,
                },
              })
            : await api.POST(`/api/builds/{build_id}/${command.way}`, { params, body: ids });
        if (answer.data) {
          this.set({ build: applyChanged(build, answer.data), preview: null, refused: null });
          if (answer.data.partial) void this.rest();
          return { ok: true };
        }
        if (answer.response.status === 409) {
          this.set({ build: answer.error as BuildOut }); // somebody else's edit came first: take it, then ours
          continue;
        }
        if (answer.response.status >= 500) return null;
        const problems = (answer.error as { problems?: { where: string; what: string }[] }).problems;
        return { ok: false, why: problemWords(problems) };
      } catch {
        return null;
      }
    }
  }
}

export function useSaved(store: BuildStore): Saved {
  return useSyncExternalStore(store.subscribe, store.savedSnapshot);
}

export function useShot(store: BuildStore): Shot {
  return useSyncExternalStore(store.subscribe, store.snapshot);
}
