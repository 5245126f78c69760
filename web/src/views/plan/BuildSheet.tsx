/** The build itself: what it is, its zones, the schools it follows, and materials that only this plan knows. */
import { Tabs } from "radix-ui";
import { useState } from "react";
import type { Build, Edit, Knowledge, OwnMaterial, Plan, Zone } from "../../api/client";
import type { BuildStore } from "../../api/store";
import { Choice, NumberField, TextField } from "../../parts/Field";
import { Sheet } from "../../parts/Panel";
import { localStamp, readStamp } from "../../drawing/stamp";
import { newId } from "../../model/ids";
import { useWords } from "../../parts/BuildDoor";
import { Push } from "../../parts/Push";

type Props = { open: boolean; plan: Plan; known: Knowledge; store: BuildStore; onClose: () => void };
const TABS = ["Build", "Zones", "Schools", "Own materials"] as const;

export function BuildSheet(p: Props) {
  return (
    <Sheet open={p.open} title="This build" onClose={p.onClose} wide>
      <Tabs.Root defaultValue="Build">
        <Tabs.List className="mb-4 flex gap-1 border-b border-line" aria-label="About this build">
          {TABS.map((t) => (
            <Tabs.Trigger
              key={t}
              value={t}
              className="min-h-8 px-3 text-sm data-[state=active]:border-b-2 data-[state=active]:border-ink data-[state=active]:font-semibold"
            >
              {t}
            </Tabs.Trigger>
          ))}
        </Tabs.List>
        <Tabs.Content value="Build">
          <About {...p} />
        </Tabs.Content>
        <Tabs.Content value="Zones">
          <Zones {...p} />
        </Tabs.Content>
        <Tabs.Content value="Schools">
          <Schools {...p} />
        </Tabs.Content>
        <Tabs.Content value="Own materials">
          <Own {...p} />
        </Tabs.Content>
      </Tabs.Root>
    </Sheet>
  );
}

function bases(known: Knowledge) {
  return known.substrates.map((s) => ({ value: s.id, label: s.name }));
}

function About({ plan, known, store }: Props) {
  const set = (label: string, part: Partial<Build>) =>
    store.edit(label, (now) => [{ edit: "set_build", build: { ...now.build, ...part } }]);
  const zone = plan.build.timezone ?? "UTC";
  return (
    <div className="grid grid-cols-2 gap-3">
      <TextField
        label="Name"
        className="col-span-2"
        value={plan.build.name}
        onTake={(t) => set("Rename the build", { name: t })}
      />
      <NumberField label="Scale, 1 to" value={plan.build.scale} onTake={(v) => set("Scale", { scale: v })} />
      <Choice
        label="Made of"
        value={plan.build.base_material ?? known.usual_base}
        options={bases(known)}
        onTake={(v) => void set("Base material", { base_material: v })}
      />
      <TextField
        label="Starts"
        value={localStamp(plan.build.starts_at, zone)}
        onTake={(t) => {
          const at = readStamp(t, zone);
          return at ? set("Start", { starts_at: at }) : { ok: false, why: "write 2026-12-05 19:30" };
        }}
      />
      <TextField label="Time zone" value={zone} onTake={(t) => set("Time zone", { timezone: t.trim() })} />
      <TextField
        label="Note"
        multiline
        className="col-span-2"
        value={plan.build.note ?? ""}
        onTake={(t) => set("Note", { note: t })}
      />
    </div>
  );
}

function Zones({ plan, known, store }: Props) {
  const set = (z: Zone, part: Partial<Zone>) =>
    store.edit(`Zone ${z.name}`, (now) => [
      { edit: "set_zone", zone: { ...(now.zones.find((x) => x.id === z.id) ?? z), ...part } },
    ]);
  const used = new Set((plan.steps ?? []).flatMap((s) => s.zones));
  return (
    <div className="space-y-2">
      {plan.zones.map((z) => (
        <div
          key={z.id}
          className="flex flex-wrap min-[640px]:grid min-[640px]:grid-cols-[1fr_6rem_11rem_8rem_auto] items-end gap-2"
        >
          <TextField label="Zone" value={z.name} onTake={(t) => set(z, { name: t })} />
          <NumberField
            label="Area"
            unit="cm²"
            value={z.area_cm2 ?? null}
            empty
            onTake={(v) => set(z, { area_cm2: v })}
          />
          <Choice
            label="Made of"
            value={z.base_material ?? ""}
            options={[{ value: "", label: "as the build" }, ...bases(known)]}
            onTake={(v) => void set(z, { base_material: v || null })}
          />
          <TextField
            label="One part with"
            value={z.part ?? ""}
            onTake={(t) => set(z, { part: t.trim() || null })}
          />
          <Push
            disabled={used.has(z.id) || plan.zones.length === 1}
            title={used.has(z.id) ? "Steps cover it; take it off them first" : undefined}
            onClick={() => void store.edit(`Remove ${z.name}`, [{ edit: "remove_zone", zone_id: z.id }])}
          >
            Remove
          </Push>
        </div>
      ))}
      <Push
        onClick={() =>
          void store.edit("Add a zone", [
            {
              edit: "add_zone",
              zone: { id: newId("zone"), name: "New zone" },
              index: plan.zones.length,
            },
          ])
        }
      >
        Add a zone
      </Push>
    </div>
  );
}

function Schools({ plan, store }: Props) {
  const words = useWords();
  const taken = (plan.schools ?? {}) as Record<string, string>;
  return (
    <div className="space-y-3">
      <p className="text-sm text-ink-2">
        Where good modellers disagree, the build follows one side, and what depends on it says so. Undecided
        pairs judge nothing.
      </p>
      {words.schools.map(({ id: pair, title, sides }) => (
        <fieldset
          key={pair}
          className="flex flex-wrap min-[640px]:grid min-[640px]:grid-cols-[11rem_1fr] items-center gap-3"
        >
          <legend className="contents">
            <span className="text-sm font-semibold">{title}</span>
          </legend>
          <span className="flex flex-wrap gap-1">
            {[...sides, { id: "", words: "undecided" }].map(({ id: side, words }) => (
              <button
                key={side}
                type="button"
                aria-pressed={(taken[pair] ?? "") === side}
                className={`min-h-7 rounded border px-2 text-left text-xs ${(taken[pair] ?? "") === side ? "border-ink font-semibold" : "border-line-soft text-ink-2"}`}
                onClick={() =>
                  void store.edit(`School: ${title.toLowerCase()}`, [
                    { edit: "set_school", pair, side: side || null },
                  ])
                }
              >
                {words}
              </button>
            ))}
          </span>
        </fieldset>
      ))}
    </div>
  );
}

function Own(p: Props) {
  const words = useWords();
  const { plan, known, store } = p;
  const own = (plan.materials ?? []) as OwnMaterial[];
  const write = (label: string, change: (now: OwnMaterial[]) => OwnMaterial[]) =>
    store.edit(label, (now) => [
      { edit: "set_own_materials", materials: change((now.materials ?? []) as OwnMaterial[]) } as Edit,
    ]);
  const set = (m: OwnMaterial, part: object) =>
    write(`Own material ${m.name}`, (now) =>
      now.map((x) => (x.id === m.id ? ({ ...x, ...part } as OwnMaterial) : x)),
    );
  return (
    <div className="space-y-4">
      <p className="text-sm text-ink-2">
        A thinner by the composition on its data sheet, or a paint: like a known one, told by a bud test of a
        dried drop, or unknown, and then never taken to be safe. They travel with the plan file.
      </p>
      {own.map((m) => (
        <section key={m.id} className="rounded border border-line-soft p-3">
          <div className="grid grid-cols-[1fr_auto] items-end gap-2">
            <TextField
              label={m.kind === "coat" ? "Paint" : "Thinner"}
              value={m.name}
              onTake={(t) => set(m, { name: t })}
            />
            <Push onClick={() => void write(`Remove ${m.name}`, (now) => now.filter((x) => x.id !== m.id))}>
              Remove
            </Push>
          </div>
          {m.kind === "coat" ? (
            <div className="mt-2 grid grid-cols-2 gap-2">
              <Choice
                label="Like"
                value={m.like ?? ""}
                options={[
                  { value: "", label: "not known" },
                  ...known.coats
                    .filter((c) => !own.some((o) => o.id === c.id))
                    .map((c) => ({ value: c.id, label: c.name })),
                ]}
                onTake={(v) => void set(m, { like: v || null })}
              />
              <Choice
                label="Bud test of a dried drop"
                value={m.bud_test ?? ""}
                options={[{ value: "", label: "not tested" }, ...words.buds]}
                onTake={(v) => void set(m, { bud_test: v || null })}
              />
              {!m.like && m.bud_test ? (
                <p className="col-span-2 text-xs text-ink-2">
                  Try water, white spirit, 70 % isopropanol, mild lacquer thinner, in that order; the first
                  that colours the bud tells the family, no more.
                </p>
              ) : null}
            </div>
          ) : (
            <Composition
              percent={m.percent as Record<string, number>}
              known={known}
              onTake={(percent) => set(m, { percent })}
            />
          )}
        </section>
      ))}
      <div className="flex gap-2">
        <Push
          onClick={() =>
            void write("Add a thinner", (now) => [
              ...now,
              {
                kind: "thinner",
                id: newId("thinner"),
                name: "Thinner from its data sheet",
                percent: { butyl_acetate: 60, isobutanol: 40 },
                note: "",
              } as OwnMaterial,
            ])
          }
        >
          Add a thinner
        </Push>
        <Push
          onClick={() =>
            void write("Add a paint", (now) => [
              ...now,
              { kind: "coat", id: newId("paint"), name: "Paint of my own", note: "" } as OwnMaterial,
            ])
          }
        >
          Add a paint
        </Push>
      </div>
    </div>
  );
}

/** Percent by volume of named solvents; kept back until they add up. */
function Composition(p: {
  percent: Record<string, number>;
  known: Knowledge;
  onTake: (percent: Record<string, number>) => Promise<{ ok: true } | { ok: false; why: string }>;
}) {
  const [draft, setDraft] = useState<[string, string][] | null>(null);
  const [why, setWhy] = useState<string | null>(null);
  const rows = draft ?? Object.entries(p.percent).map(([id, v]) => [id, String(v)] as [string, string]);
  const total = rows.reduce((sum, [, v]) => sum + (Number(v.replace(",", ".")) || 0), 0);
  const change = (i: number, part: [string, string]) => setDraft(rows.map((r, j) => (j === i ? part : r)));
  const take = async () => {
    const percent = Object.fromEntries(rows.map(([id, v]) => [id, Number(v.replace(",", "."))]));
    const outcome = await p.onTake(percent);
    if (outcome.ok) setDraft(null);
    setWhy(outcome.ok ? null : outcome.why);
  };
  return (
    <div className="mt-2 space-y-1.5">
      {rows.map(([id, value], i) => (
        <div key={i} className="flex items-center gap-2">
          <select
            className="field flex-1"
            aria-label={`Solvent ${i + 1}`}
            value={id}
            onChange={(e) => change(i, [e.target.value, value])}
          >
            {p.known.solvents.map((s) => (
              <option key={s.id} value={s.id}>
                {s.name} ({s.family})
              </option>
            ))}
          </select>
          <input
            className="field w-20"
            inputMode="decimal"
            aria-label={`Percent of solvent ${i + 1}`}
            value={value}
            onChange={(e) => change(i, [id, e.target.value])}
          />
          <span className="text-xs">%</span>
          <Push
            data-bare
            aria-label={`Take solvent ${i + 1} out`}
            disabled={rows.length === 1}
            onClick={() => setDraft(rows.filter((_, j) => j !== i))}
          >
            ×
          </Push>
        </div>
      ))}
      <div className="flex items-center gap-2 text-sm">
        <Push onClick={() => setDraft([...rows, ["water", String(Math.max(100 - total, 1))]])}>
          Add a solvent
        </Push>
        <span className={Math.abs(total - 100) > 1 ? "font-semibold" : "text-ink-2"}>
          {Math.round(total * 10) / 10} % in all
        </span>
        {draft ? (
          <>
            <Push data-strong disabled={Math.abs(total - 100) > 1} onClick={() => void take()}>
              Take it
            </Push>
            <Push onClick={() => setDraft(null)}>Put it back</Push>
          </>
        ) : null}
      </div>
      {why ? (
        <p role="alert" className="text-xs font-semibold">
          {why}
        </p>
      ) : null}
    </div>
  );
}
