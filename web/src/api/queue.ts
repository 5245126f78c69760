/**
 * Commands on their way, one after the other, each again until it is answered. Those not yet answered are kept in the
 * browser, so nothing typed is lost on a reload or while the connection is down.
 */
import { unsentKey, ownTab } from "./tabs";
import type { Shown } from "./client";
import type { Command } from "./transport";

export type Saved = "saved" | "saving" | "waiting";
export type Outcome = { ok: true; shown?: Shown } | { ok: false; why: string };

export const RETRY_MS = 1500;
export const pause = (ms: number) => new Promise((r) => setTimeout(r, ms));

export class Queue {
  saved: Saved = "saved";
  private waiting: { command: Command; settle: (outcome: Outcome) => void }[] = [];
  private busy = false;

  /** `send`: the outcome of a command, null where there was no answer. `ready`: whether there is a build to send for. */
  constructor(
    private id: string,
    private p: {
      send: (command: Command) => Promise<Outcome | null>;
      ready: () => boolean;
      told: () => void;
      refused: (why: string) => void;
    },
  ) {}

  get empty() {
    return this.waiting.length === 0;
  }

  /** Once nothing is on its way; at once where the connection is down. */
  async idle() {
    while (!this.empty && this.saved !== "waiting") await pause(10);
  }

  push(command: Command): Promise<Outcome> {
    return new Promise((settle) => {
      this.waiting.push({ command, settle });
      this.remember();
      void this.work();
    });
  }

  /** Commands that another visit left unsent, but for those that are on their way already. */
  takeUp(unsent: Command[]) {
    const here = new Set(this.waiting.map((w) => w.command.command_id));
    for (const command of unsent) if (!here.has(command.command_id)) void this.push(command);
  }

  private tell(saved: Saved) {
    this.saved = saved;
    this.p.told();
  }

  private remember() {
    const key = unsentKey(this.id, ownTab());
    if (this.empty) localStorage.removeItem(key);
    else localStorage.setItem(key, JSON.stringify(this.waiting.map((w) => w.command)));
  }

  private async work() {
    if (this.busy) return;
    this.busy = true;
    this.tell("saving");
    while (!this.empty && this.p.ready()) {
      const { command, settle } = this.waiting[0]!;
      const outcome = await this.p.send(command);
      if (outcome === null) {
        this.tell("waiting");
        await pause(RETRY_MS);
        continue;
      }
      this.waiting.shift();
      this.remember();
      if (!outcome.ok) this.p.refused(outcome.why);
      settle(outcome);
    }
    this.busy = false;
    this.tell("saved");
  }
}
