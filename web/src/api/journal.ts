/**
 * The journal of one build on this device: what was said here and by others, kept in the browser, sent in order as soon
 * as the server answers, and shown at once either way. Nothing at the bench waits for an answer.
 */
import { del, get, set } from "idb-keyval";
import { useSyncExternalStore } from "react";
import { api, csrf, plainWords, type Entry, type MovedOut, type Pack, type Problem } from "./client";
import { CLOCK, type BenchClock } from "./clock";
import { adopted, ownTab, unsentKey } from "./tabs";

type Unsent = Entry & { frame?: string };
export type BenchShot = {
  pack: Pack | null;
  entries: Entry[];
  unsent: number;
  away: boolean;
  missing: string | null;
  refused: string | null;
  moved: MovedOut[];
};
const SAID = "emvar-said-";
const RETRY_MS = 1500;
const POLL_MS = 4000;
const PICTURE = "emvar-picture-";

const keyOf = (id: string) => `emvar-journal-${id}`;

export class JournalStore {
  private shot: BenchShot;
  private known = new Map<string, Entry>();
  private last = 0;
  private revision = -1;
  private unsent: Unsent[] = [];
  private listeners = new Set<() => void>();
  private timer: ReturnType<typeof setTimeout> | undefined;
  private busy = false;
  private stale = true;
  private open = 0;
  private written = 0;

  constructor(
    readonly id: string,
    private readonly clock: BenchClock = CLOCK,
  ) {
    const kept = JSON.parse(localStorage.getItem(keyOf(id)) ?? "null") as {
      pack: Pack | null;
      entries: Entry[];
      last: number;
    } | null;
    for (const e of kept?.entries ?? []) this.known.set(e.id, e);
    this.last = kept?.last ?? 0;
    this.shot = {
      pack: kept?.pack ?? null,
      entries: [...this.known.values()],
      unsent: 0,
      away: false,
      missing: null,
      refused: null,
      moved: [],
    };
    clock.onShift((delta) => this.shift(delta));
  }

  subscribe = (f: () => void) => {
    this.listeners.add(f);
    return () => void this.listeners.delete(f);
  };
  snapshot = () => this.shot;

  private put(part: Partial<BenchShot>) {
    this.shot = { ...this.shot, ...part };
    for (const f of this.listeners) f();
  }
  private all(): Entry[] {
    const all = new Map(this.known);
    for (const e of this.unsent) if (!all.has(e.id)) all.set(e.id, e);
    return [...all.values()];
  }
  private keep() {
    const rest = { pack: this.shot.pack, entries: [...this.known.values()], last: this.last };
    try {
      localStorage.setItem(keyOf(this.id), JSON.stringify(rest));
    } catch {
      localStorage.removeItem(keyOf(this.id)); // no room: it is asked for again; what is unsent has its own place
    }
  }
  private remember() {
    const key = unsentKey(this.id, ownTab(), SAID);
    if (this.unsent.length) localStorage.setItem(key, JSON.stringify(this.unsent));
    else localStorage.removeItem(key);
  }

  /** Opened by a view: what was left unsent is taken up, and the server is asked as long as a view is open. */
  async start(): Promise<void> {
    this.open += 1;
    if (this.open > 1) return;
    const left = await adopted<Unsent>(this.id, SAID);
    const here = new Set(this.unsent.map((e) => e.id));
    this.unsent.push(...left.unsent.filter((e) => !here.has(e.id)));
    this.remember();
    left.forget();
    this.put({ entries: this.all(), unsent: this.unsent.length });
    this.stale = true;
    void this.sync();
  }
  stop() {
    this.open -= 1;
    if (this.open <= 0) clearTimeout(this.timer);
  }

  /** Says something, now or of a moment given. It counts from here on, whether or not anybody hears it yet. */
  say(part: Partial<Entry> & Pick<Entry, "said">): Entry {
    const now = this.clock.iso();
    // What is said later stands later, also where the clock was put back in between.
    this.written = Math.max(Date.parse(now), this.written + 1);
    const entry: Unsent = {
      id: crypto.randomUUID(),
      at: now,
      device: deviceName(),
      frame: this.clock.frame,
      ...part,
      written_at: new Date(this.written).toISOString(),
    };
    this.unsent.push(entry);
    this.remember();
    this.put({ entries: this.all(), unsent: this.unsent.length });
    void this.sync();
    return entry;
  }
  /** Takes back what was said: by saying so. */
  takeBack(id: string) {
    const waiting = this.unsent.find((e) => e.id === id);
    if (waiting && !this.busy) {
      this.unsent = this.unsent.filter((e) => e.id !== id);
      this.remember();
      this.put({ entries: this.all(), unsent: this.unsent.length });
      return;
    }
    this.say({ said: "back", corrects: id });
  }

  /** A picture: kept here until it is there, then told of in the journal. */
  async picture(body: Blob, about: Partial<Entry>): Promise<void> {
    const id = crypto.randomUUID();
    await set(PICTURE + id, body);
    this.say({ said: "picture", picture: id, ...about });
  }

  /** The time was off by so much: what was said by it is put right, where it is not on its way already. */
  private shift(delta: number) {
    const put = (t: string) => new Date(Date.parse(t) + delta).toISOString();
    this.unsent = this.unsent.map((e) =>
      e.frame !== this.clock.frame
        ? e
        : {
            ...e,
            at: put(e.at),
            written_at: put(e.written_at),
            ...(e.began_at ? { began_at: put(e.began_at) } : {}),
          },
    );
    this.remember();
    if (this.unsent.length) this.put({ entries: this.all() });
  }

  heard() {
    this.put({ refused: null, moved: [] });
  }

  private again(ms: number) {
    clearTimeout(this.timer);
    if (this.open > 0 || this.unsent.length) this.timer = setTimeout(() => void this.sync(), ms);
  }

  /** Sends what is unsent, hears what others said, and fetches the pack where something has changed. */
  async sync(): Promise<void> {
    if (this.busy) return;
    this.busy = true;
    try {
      if (!this.clock.sure && this.unsent.length) await this.hear();
      const sent = this.clock.stopwatch();
      const parcel = this.unsent.slice(0, 200);
      await this.sendPictures(parcel);
      const { data, error, response } = await api.POST("/api/builds/{build_id}/journal", {
        params: { path: { build_id: this.id } },
        body: {
          after: this.last,
          device_now: this.clock.iso(),
          parcel: crypto.randomUUID(),
          entries: parcel.map(({ frame: _frame, ...e }) => e) as never,
        },
      });
      if (data) {
        this.clock.heard(data.now, data.pace, sent);
        for (const e of data.entries) this.known.set(e.id, e as Entry);
        const gone = new Set([...data.taken, ...data.refused.map((r) => r.id)]);
        this.unsent = this.unsent.filter((e) => !gone.has(e.id));
        this.last = data.last;
        if (data.entries.length || data.revision !== this.revision) this.stale = true;
        this.revision = data.revision;
        this.remember();
        this.put({
          entries: this.all(),
          unsent: this.unsent.length,
          away: false,
          missing: null,
          ...(data.refused.length ? { refused: data.refused.map((r) => r.what).join("; ") } : {}),
          ...(data.moved.length ? { moved: data.moved } : {}),
        });
        const changed = this.stale || data.entries.length > 0;
        if (this.stale) await this.fetchPack();
        if (changed) this.keep();
      } else if (response.status >= 500) this.put({ away: true });
      else if (response.status === 404)
        this.put({ missing: plainWords((error as { problems?: Problem[] }).problems) });
      else this.put({ away: response.status !== 403, refused: this.why(error, response.status) });
    } catch {
      this.put({ away: true });
    } finally {
      this.busy = false;
    }
    // What was said meanwhile goes at once.
    if (!this.shot.missing) this.again(!this.unsent.length ? POLL_MS : this.shot.away ? RETRY_MS : 0);
  }

  private why(error: unknown, status: number): string {
    if (status === 403) return "this device is not paired, or was turned out; pair it again at the machine";
    return plainWords((error as { problems?: Problem[] } | undefined)?.problems);
  }

  /** What was said by a clock that was off is put right before it is sent. */
  private async hear() {
    const sent = this.clock.stopwatch();
    const { data } = await api.GET("/api/clock");
    if (data) this.clock.heard(data.now, data.pace, sent);
  }

  private async fetchPack() {
    const { data } = await api.GET("/api/builds/{build_id}/pack", {
      params: { path: { build_id: this.id } },
    });
    if (data) {
      this.stale = false;
      this.put({ pack: data });
    }
  }

  private async sendPictures(parcel: Entry[]) {
    for (const entry of parcel) {
      if (entry.said !== "picture" || !entry.picture) continue;
      const body = await get<Blob>(PICTURE + entry.picture);
      if (!body) continue;
      const answer = await fetch(`/api/builds/${this.id}/pictures/${entry.picture}`, {
        method: "POST",
        body,
        headers: {
          "X-CSRFToken": csrf(),
          "Content-Type": "application/octet-stream",
        },
      });
      if (answer.status >= 500) throw new Error("away");
      if (!answer.ok) {
        const told = (await answer.json().catch(() => ({}))) as { problems?: Problem[] };
        this.unsent = this.unsent.filter((e) => e.id !== entry.id);
        parcel.splice(parcel.indexOf(entry), 1);
        this.remember();
        this.put({ entries: this.all(), refused: plainWords(told.problems) });
      }
      await del(PICTURE + entry.picture);
    }
  }
}

/** What this device calls itself: what kind it is, and which of its kind. */
function deviceName(): string {
  const kept = localStorage.getItem("emvar-device");
  if (kept) return kept;
  const kind = /Mobi/.test(navigator.userAgent) ? "phone" : "computer";
  const name = `${kind} ${crypto.randomUUID().slice(0, 4)}`;
  localStorage.setItem("emvar-device", name);
  return name;
}

const stores = new Map<string, JournalStore>();
export function journalOf(id: string): JournalStore {
  let store = stores.get(id);
  if (!store) stores.set(id, (store = new JournalStore(id)));
  return store;
}

export function useBench(store: JournalStore): BenchShot {
  return useSyncExternalStore(store.subscribe, store.snapshot);
}
