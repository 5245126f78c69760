/** Sound, vibration, and a screen that stays awake: each may be turned off, and what a browser lacks is said. */
import { useEffect, useRef, useState } from "react";
import type { Running } from "../../model/timers";

const KEY = "emvar-signals";
export type Signals = { sound: boolean; shake: boolean; awake: boolean };
const USUAL: Signals = { sound: true, shake: true, awake: true };

export function useSignalSettings(): [Signals, (part: Partial<Signals>) => void] {
  const [now, setNow] = useState<Signals>(() => ({
    ...USUAL,
    ...(JSON.parse(localStorage.getItem(KEY) ?? "{}") as Partial<Signals>),
  }));
  const put = (part: Partial<Signals>) => {
    const next = { ...now, ...part };
    setNow(next);
    localStorage.setItem(KEY, JSON.stringify(next));
  };
  return [now, put];
}

let audio: AudioContext | null = null;
function beep(high: boolean) {
  try {
    audio ??= new AudioContext();
    const from = audio.currentTime;
    for (const [i, hz] of (high ? [660, 880] : [660, 440]).entries()) {
      const [tone, gain] = [audio.createOscillator(), audio.createGain()];
      tone.frequency.value = hz;
      gain.gain.setValueAtTime(0.0001, from + i * 0.22);
      gain.gain.exponentialRampToValueAtTime(0.25, from + i * 0.22 + 0.03);
      gain.gain.exponentialRampToValueAtTime(0.0001, from + i * 0.22 + 0.2);
      tone.connect(gain).connect(audio.destination);
      tone.start(from + i * 0.22);
      tone.stop(from + i * 0.22 + 0.21);
    }
  } catch {
    /* a browser without sound has none */
  }
}

/** Tells when a window opens, and when it begins to close: once each. */
export function useSignals(runs: Running[], signals: Signals) {
  const phases = useRef(new Map<string, string>());
  useEffect(() => {
    for (const r of runs) {
      const was = phases.current.get(r.timer.id);
      phases.current.set(r.timer.id, r.phase);
      if (was === undefined || was === r.phase || !["easy", "closing", "late"].includes(r.phase)) continue;
      if (signals.sound) beep(r.phase === "easy");
      if (signals.shake) navigator.vibrate?.(r.phase === "easy" ? [200] : [200, 120, 200, 120, 200]);
    }
  }, [runs, signals]);
}

/** Keeps the screen awake while the page is looked at. Gives whether this browser can. */
export function useAwake(on: boolean): boolean {
  const can = "wakeLock" in navigator && window.isSecureContext;
  useEffect(() => {
    if (!on || !can) return;
    let lock: WakeLockSentinel | null = null;
    let over = false;
    const ask = () => {
      if (document.visibilityState !== "visible") return;
      navigator.wakeLock.request("screen").then(
        (got) => {
          if (over) void got.release();
          else lock = got;
        },
        () => undefined,
      );
    };
    ask();
    document.addEventListener("visibilitychange", ask);
    return () => {
      over = true;
      document.removeEventListener("visibilitychange", ask);
      void lock?.release();
    };
  }, [on, can]);
  return can;
}
