/**
 * What time it is at the bench, whatever this device's own clock says. The server's time is the anchor; from it on the
 * time that has really passed is counted, which setting a clock does not change. While the server is away, a leap of
 * the device's clock is taken for sleep when it goes forward, and for a clock that was set when it goes back.
 */
export type Stopwatch = { mono: () => number; wall: () => number };
type Anchor = { at: number; mono: number; wall: number; pace: number };

const KEY = "emvar-now";
const LEAP_MS = 4000;
const NOTICED_MS = 1500;

export class BenchClock {
  private anchor: Anchor;
  /** Entries from before a leap that nobody could explain, or from before a reload, are not moved any more. */
  frame: string;
  private frames = 0;
  /** Whether the server was heard on this page, and nothing leapt since. */
  sure = false;
  private listeners = new Set<(delta: number) => void>();

  constructor(
    private readonly watch: Stopwatch = { mono: () => performance.now(), wall: () => Date.now() },
    kept: string | null = typeof localStorage === "undefined" ? null : localStorage.getItem(KEY),
  ) {
    const wall = watch.wall();
    this.frame = `${watch.wall()}-${Math.random()}`;
    this.anchor = { at: wall, mono: watch.mono(), wall, pace: 1 };
    try {
      const was = JSON.parse(kept ?? "null") as { at: number; wall: number; pace: number } | null;
      if (was) {
        this.anchor.pace = was.pace;
        this.anchor.at = was.at + Math.max(wall - was.wall, 0) * was.pace;
      }
    } catch {
      /* what cannot be read is as good as nothing */
    }
  }

  get pace() {
    return this.anchor.pace;
  }

  now(): number {
    this.leapt();
    return this.anchor.at + (this.watch.mono() - this.anchor.mono) * this.anchor.pace;
  }

  iso(): string {
    return new Date(this.now()).toISOString();
  }

  /** Whether the device's clock went another way than the time that passed: sleep, or somebody set it. */
  private leapt() {
    const mono = this.watch.mono() - this.anchor.mono;
    const wall = this.watch.wall() - this.anchor.wall;
    const leap = wall - mono;
    if (Math.abs(leap) < LEAP_MS) return;
    const at = this.anchor.at + mono * this.anchor.pace + (leap > 0 ? leap * this.anchor.pace : 0);
    this.anchor = { ...this.anchor, at, mono: this.watch.mono(), wall: this.watch.wall() };
    if (leap > 0) this.frame = `${this.frame}+${++this.frames}`;
    this.sure = false;
  }

  /** The server's word. `sent`: the stopwatch when it was asked; the answer is taken for the middle of the way. */
  heard(server: string, pace: number, sent: number) {
    const mono = this.watch.mono();
    const at = Date.parse(server) + ((mono - sent) / 2) * pace;
    const delta = at - this.now();
    this.anchor = { at, mono, wall: this.watch.wall(), pace };
    this.sure = true;
    if (typeof localStorage !== "undefined")
      localStorage.setItem(KEY, JSON.stringify({ at, wall: this.anchor.wall, pace }));
    if (Math.abs(delta) > NOTICED_MS * Math.max(pace, 1)) for (const f of this.listeners) f(delta);
  }

  stopwatch() {
    return this.watch.mono();
  }

  /** Told by how much the time was off, so that what was said by it can be put right. */
  onShift(f: (delta: number) => void) {
    this.listeners.add(f);
    return () => void this.listeners.delete(f);
  }
}

export const CLOCK = new BenchClock();
