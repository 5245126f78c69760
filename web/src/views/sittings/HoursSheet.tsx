/** When there is bench time, and what a schedule is to aim for. Every change is an edit of the plan. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, plainWords, type Hours, type Plan, type Problem } from "../../api/client";
import type { BuildStore } from "../../api/store";
import { useWords } from "../../parts/BuildDoor";
import { Check, Choice, NumberField, TextField, Typed } from "../../parts/Field";
import { Sheet } from "../../parts/Panel";
import { Push } from "../../parts/Push";

const DAYS = ["mon", "tue", "wed", "thu", "fri", "sat", "sun"] as const;
type Weekly = NonNullable<Hours["weekly"]>[number];
type Dated = NonNullable<Hours["dates"]>[number];
type Off = NonNullable<Hours["off"]>[number];

export function HoursSheet(p: { open: boolean; hours: Hours; store: BuildStore; onClose: () => void }) {
  const { hours, store } = p;
  const words = useWords();
  const set = (label: string, part: Partial<Hours>) =>
    store.edit(label, (plan) => [{ edit: "set_hours", hours: { ...hours, ...plan.hours, ...part } }]);
  const weekly = hours.weekly ?? [];
  const change = (i: number, part: Partial<Weekly>) =>
    set("Weekly hours", { weekly: weekly.map((w, n) => (n === i ? { ...w, ...part } : w)) });
  const goals = hours.goals ?? words.goals;
  const raise = (i: number) => {
    const next = [...goals];
    [next[i - 1], next[i]] = [next[i]!, next[i - 1]!];
    return set("Order of goals", { goals: next as Hours["goals"] });
  };
  const clean = hours.cleaning ?? {};
  return (
    <Sheet open={p.open} onClose={p.onClose} title="Your hours" widest>
      <div className="grid gap-8 min-[640px]:grid-cols-2">
        <div>
          <h3 className="font-semibold">Every week</h3>
          <ul className="mt-1 space-y-2">
            {weekly.map((w, i) => (
              <li key={i} className="flex flex-wrap items-end gap-2">
                <span className="flex flex-wrap gap-0.5" role="group" aria-label="Days">
                  {DAYS.map((d) => (
                    <button
                      key={d}
                      type="button"
                      aria-pressed={w.days.includes(d)}
                      className={`h-[30px] w-9 rounded border border-line text-xs ${w.days.includes(d) ? "bg-ink text-paper" : ""}`}
                      onClick={() => {
                        const days = DAYS.filter((x) => (x === d) !== w.days.includes(x));
                        if (days.length) void change(i, { days: [...days] });
                      }}
                    >
                      {d}
                    </button>
                  ))}
                </span>
                <Stretch
                  of={w}
                  change={(part) => change(i, part)}
                  remove={() => set("Weekly hours", { weekly: weekly.filter((_, n) => n !== i) })}
                />
              </li>
            ))}
          </ul>
          <Push
            className="mt-2"
            onClick={() =>
              void set("Weekly hours", {
                weekly: [...weekly, { days: ["wed"], start: "19:30", length_min: 120 }],
              })
            }
          >
            More hours
          </Push>
          <Dates hours={hours} set={set} />
          <DaysOff hours={hours} set={set} />
          <Taken store={store} hours={hours} set={set} />
        </div>
        <div>
          <h3 className="font-semibold">What counts, in this order</h3>
          <ol className="mt-1 space-y-1">
            {goals.map((g, i) => (
              <li key={g} className="flex flex-wrap items-center gap-2 text-sm">
                <span className="w-4">{i + 1}</span>
                <span className="w-60 min-w-0">{words.goal(g)}</span>
                <Push
                  disabled={i === 0}
                  aria-label={`${words.goal(g)}: more important`}
                  onClick={() => void raise(i)}
                >
                  ↑
                </Push>
              </li>
            ))}
          </ol>
          <div className="mt-4 grid grid-cols-[repeat(auto-fit,minmax(9rem,1fr))] items-end gap-3">
            <NumberField
              label="Wait to be rid of a caution, at most"
              unit="h"
              value={hours.patience_h ?? 24}
              onTake={(v) => set("Patience", { patience_h: v })}
            />
            <TextField
              label="Parts that can dry at one time"
              unit="places"
              inputMode="decimal"
              value={hours.drying_places ? String(hours.drying_places) : "no limit"}
              onTake={(text) => {
                const places = Number(text);
                const none = text.trim() === "" || text.trim() === "no limit";
                if (!none && !Number.isInteger(places))
                  return { ok: false, why: `“${text}” is no number of places` };
                return set("Drying places", { drying_places: none ? null : places });
              }}
            />
          </div>
          <SprayHours hours={hours} set={set} />
          <FineWork hours={hours} set={set} />
          <h3 className="mt-4 font-semibold">Cleaning an airbrush</h3>
          <div className="mt-1 grid grid-cols-[repeat(auto-fit,minmax(7rem,1fr))] gap-3">
            {(
              [
                ["like_min", "Like to like", 2],
                ["dark_to_light_min", "Dark to light", 4],
                ["other_min", "Other system, or the end", 12],
              ] as const
            ).map(([key, label, usual]) => (
              <NumberField
                key={key}
                label={label}
                unit="min"
                value={clean[key] ?? usual}
                onTake={(v) => set("Cleaning", { cleaning: { ...clean, [key]: Math.round(v) } })}
              />
            ))}
          </div>
          <h3 className="mt-4 font-semibold">Public holidays</h3>
          <div className="mt-1 grid grid-cols-2 gap-3">
            <TextField
              label="Country, two letters"
              value={hours.holidays ?? ""}
              onTake={(text) => set("Holidays", { holidays: text.trim().toUpperCase() || null })}
            />
            <Choice
              label="On them there is"
              value={hours.holidays_as ?? ""}
              options={[
                { value: "", label: "no sitting" },
                ...DAYS.map((d) => ({ value: d as string, label: `what there is on a ${d}` })),
              ]}
              onTake={(v) => void set("Holidays", { holidays_as: (v || null) as Hours["holidays_as"] })}
            />
          </div>
        </div>
      </div>
    </Sheet>
  );
}

/** Noise, neighbours, daylight: between which times of day the airbrush, or a can, may run. */
function SprayHours({ hours, set }: { hours: Hours; set: Set }) {
  const limited = !!hours.spray_from;
  return (
    <>
      <h3 className="mt-4 font-semibold">Spraying</h3>
      <div className="mt-1 flex flex-wrap items-end gap-3">
        <Check
          label="Only at some hours"
          on={limited}
          onTake={(on) =>
            void set(
              "Hours of spraying",
              on ? { spray_from: "10:00", spray_until: "21:00" } : { spray_from: null, spray_until: null },
            )
          }
        />
        {limited ? (
          <>
            <TextField
              label="From"
              className="w-16"
              value={hours.spray_from!}
              onTake={(t) => set("Hours of spraying", { spray_from: t.trim() })}
            />
            <TextField
              label="Until"
              className="w-16"
              value={hours.spray_until ?? ""}
              onTake={(t) => set("Hours of spraying", { spray_until: t.trim() })}
            />
          </>
        ) : null}
      </div>
    </>
  );
}

/** Eyes and hands: how long fine work may go on, and the rest after it. */
function FineWork({ hours, set }: { hours: Hours; set: Set }) {
  const most = hours.fine_at_most_min ?? null;
  return (
    <>
      <h3 className="mt-4 font-semibold">Fine work</h3>
      <div className="mt-1 flex flex-wrap items-end gap-3">
        <Check
          label="With rests"
          on={most !== null}
          onTake={(on) => void set("Fine work", { fine_at_most_min: on ? 45 : null })}
        />
        {most !== null ? (
          <>
            <NumberField
              label="In a row at most"
              unit="min"
              className="w-28"
              value={most}
              onTake={(v) => set("Fine work", { fine_at_most_min: Math.round(v) })}
            />
            <NumberField
              label="Then a rest of"
              unit="min"
              className="w-28"
              value={hours.rest_min ?? 10}
              onTake={(v) => set("Fine work", { rest_min: Math.round(v) })}
            />
          </>
        ) : null}
      </div>
      {most !== null ? (
        <p className="mt-1 text-xs text-ink-2">
          Decals, marks made with a brush, pin washes and drawing them out. Other work in between is a rest
          too. Each step can say otherwise, under “More”.
        </p>
      ) : null}
    </>
  );
}

/** What else takes the time: other builds, and a calendar that is read in. */
function Taken({ store, hours, set }: { store: BuildStore; hours: Hours; set: Set }) {
  const [said, setSaid] = useState("");
  const busy = hours.busy ?? [];
  const read = async (file: File) => {
    const { data, error } = await api.POST("/api/builds/{build_id}/sittings/busy", {
      params: { path: { build_id: store.id } },
      body: file as never,
      bodySerializer: (b) => b as unknown as string,
      headers: { "Content-Type": "text/calendar" },
    });
    if (!data) return setSaid(plainWords((error as { problems?: Problem[] })?.problems));
    const outcome = data.busy.length
      ? await set("A calendar read in", { busy: data.busy })
      : { ok: true as const };
    setSaid(outcome.ok ? data.words : outcome.why);
  };
  return (
    <>
      <h3 className="mt-4 font-semibold">Taken by something else</h3>
      <Check
        className="mt-1"
        label="One pair of hands: what other builds with this mark have planned is taken"
        on={hours.shared ?? false}
        onTake={(on) => void set("Shared hours", { shared: on })}
      />
      <HoursOf store={store} set={set} />
      <div className="mt-1 flex flex-wrap items-center gap-2 text-sm">
        <label className="push cursor-pointer focus-within:outline-2">
          Read a calendar file
          <input
            type="file"
            accept=".ics,text/calendar"
            className="sr-only"
            onChange={(e) => {
              const file = e.target.files?.[0];
              if (file) void read(file);
              e.target.value = "";
            }}
          />
        </label>
        {busy.length ? (
          <>
            <span>
              {busy.length} busy {busy.length === 1 ? "time" : "times"}
            </span>
            <Push
              onClick={() => {
                setSaid("");
                void set("Busy times away", { busy: [] });
              }}
            >
              Forget them
            </Push>
          </>
        ) : null}
      </div>
      {said ? (
        <p role="status" className="mt-1 text-sm">
          {said}
        </p>
      ) : null}
    </>
  );
}

/** One calendar for several builds: the hours of another one, taken over whole. */
function HoursOf({ store, set }: { store: BuildStore; set: Set }) {
  const { data } = useQuery({
    queryKey: ["builds", "names"],
    queryFn: async () => (await api.GET("/api/builds")).data ?? [],
    staleTime: 10_000,
  });
  const others = (data ?? []).filter((b) => b.id !== store.id);
  if (!others.length) return null;
  const take = async (id: string) => {
    const { data: other } = await api.GET("/api/builds/{build_id}", { params: { path: { build_id: id } } });
    const hours = (other?.plan as Plan | undefined)?.hours;
    const name = others.find((b) => b.id === id)?.name ?? "";
    if (hours) await set(`The hours of ${name}`, { ...hours, shared: true });
    else store.say(`“${name}” has no hours of its own yet.`);
  };
  return (
    <Choice
      label="Take the hours of another build, and share them"
      className="mt-1"
      value=""
      options={[{ value: "", label: "choose one" }, ...others.map((b) => ({ value: b.id, label: b.name }))]}
      onTake={(id) => {
        if (id) void take(id);
      }}
    />
  );
}

type Set = (label: string, part: Partial<Hours>) => Promise<{ ok: true } | { ok: false; why: string }>;

/** From when for how long, to be changed or taken out. */
function Stretch(p: {
  of: { start: string; length_min: number };
  change: (part: { start?: string; length_min?: number }) => ReturnType<Set>;
  remove: () => ReturnType<Set>;
}) {
  return (
    <>
      <TextField
        label="From"
        className="w-16"
        value={p.of.start}
        onTake={(v) => p.change({ start: v.trim() })}
      />
      <NumberField
        label="For"
        unit="min"
        className="w-24"
        value={p.of.length_min}
        onTake={(v) => p.change({ length_min: Math.round(v) })}
      />
      <Push onClick={() => void p.remove()}>Remove</Push>
    </>
  );
}

function Dates({ hours, set }: { hours: Hours; set: Set }) {
  const dates = hours.dates ?? [];
  const cancelled = hours.cancelled ?? [];
  const [date, setDate] = useState("");
  const change = (i: number, part: Partial<Dated>) =>
    set("Single sitting", { dates: dates.map((d, n) => (n === i ? { ...d, ...part } : d)) });
  return (
    <>
      <h3 className="mt-4 font-semibold">Single sittings</h3>
      <ul className="mt-1 space-y-1">
        {dates.map((d, i) => (
          <li key={`${d.date}${d.start}${i}`} className="flex flex-wrap items-end gap-2">
            <span className="w-24 self-center text-sm">{d.date}</span>
            <Stretch
              of={d}
              change={(part) => change(i, part)}
              remove={() => set("Single sitting", { dates: dates.filter((_, n) => n !== i) })}
            />
          </li>
        ))}
        {cancelled.map((id) => (
          <li key={id} className="flex flex-wrap items-center gap-2 text-sm">
            <span className="w-60 min-w-0">
              {id.replace("T", ", ")}: <strong>does not take place</strong>
            </span>
            <Push onClick={() => void set("Sitting", { cancelled: cancelled.filter((c) => c !== id) })}>
              It does
            </Push>
          </li>
        ))}
      </ul>
      <div className="mt-1 flex flex-wrap items-end gap-2">
        <Typed label="On" value={date} onType={setDate} className="field block" type="date" />
        <Push
          disabled={!date}
          onClick={() =>
            void set("Single sitting", { dates: [...dates, { date, start: "19:30", length_min: 120 }] })
          }
        >
          Add a sitting
        </Push>
      </div>
    </>
  );
}

function DaysOff({ hours, set }: { hours: Hours; set: Set }) {
  const off = hours.off ?? [];
  const [draft, setDraft] = useState<Off>({ first: "", last: "", why: "" });
  const field = (label: string, key: "first" | "last") => (
    <Typed
      label={label}
      type="date"
      className="field block"
      value={draft[key]}
      onType={(day) => setDraft({ ...draft, [key]: day })}
    />
  );
  return (
    <>
      <h3 className="mt-4 font-semibold">Away</h3>
      <ul className="mt-1 space-y-1 text-sm">
        {off.map((o, i) => (
          <li key={`${o.first}${i}`} className="flex items-center gap-2">
            <span className="w-60 min-w-0">
              {o.first} to {o.last} {o.why ?? ""}
            </span>
            <Push onClick={() => void set("Away", { off: off.filter((_, n) => n !== i) })}>Remove</Push>
          </li>
        ))}
      </ul>
      <div className="mt-1 flex flex-wrap items-end gap-2">
        {field("From", "first")}
        {field("Until", "last")}
        <Push
          disabled={!draft.first || !draft.last}
          onClick={async () => {
            const done = await set("Away", {
              off: [...off, { first: draft.first, last: draft.last, why: draft.why || null }],
            });
            if (done.ok) setDraft({ first: "", last: "", why: "" });
          }}
        >
          Add days off
        </Push>
      </div>
    </>
  );
}
