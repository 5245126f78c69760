/** The area of a zone, worked out from its shape and size. */
import { useState } from "react";
import { Popover } from "radix-ui";
import { api } from "../../api/client";
import { sensible } from "../../drawing/units";
import { Push } from "../../parts/Push";

type Field = [name: string, label: string];
const SHAPES: { id: string; words: string; tool: "shape" | "area"; fields: Field[] }[] = [
  {
    id: "box",
    words: "A box",
    tool: "shape",
    fields: [
      ["length_cm", "long, cm"],
      ["width_cm", "wide, cm"],
      ["height_cm", "high, cm"],
    ],
  },
  {
    id: "cylinder",
    words: "A cylinder",
    tool: "shape",
    fields: [
      ["diameter_cm", "across, cm"],
      ["length_cm", "long, cm"],
    ],
  },
  {
    id: "hull",
    words: "A hull, from the real thing",
    tool: "area",
    fields: [
      ["length_m", "long, m"],
      ["beam_m", "wide, m"],
      ["height_m", "high, m"],
    ],
  },
];

export function AreaHelper(p: { scale: string; of: string; onArea: (cm2: number) => void }) {
  const [shape, setShape] = useState(SHAPES[0]!);
  const [typed, setTyped] = useState<Record<string, string>>({});
  const [found, setFound] = useState<{ cm2: number; words: string } | null>(null);
  const ask = async (sizes: Record<string, string>, of = shape) => {
    setTyped(sizes);
    const all = of.fields.map(([f]) => Number((sizes[f] ?? "").replace(",", ".")));
    if (all.some((x) => !(x > 0))) return setFound(null);
    const query = Object.fromEntries(of.fields.map(([f], i) => [f, all[i]!]));
    const { data } = await api.GET("/api/tools/{name}", {
      params: {
        path: { name: of.tool },
        query: of.tool === "area" ? { ...query, scale: Number(p.scale) || 72 } : query,
      },
    });
    setFound(data?.values.area_cm2 ? { cm2: data.values.area_cm2, words: data.words } : null);
  };
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <Push aria-label={`Work out the area of ${p.of || "this zone"}`}>Work it out</Push>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          aria-label={`The area of ${p.of || "this zone"}`}
          sideOffset={4}
          collisionPadding={8}
          sticky="always"
          className="z-30 max-h-(--radix-popover-content-available-height) w-72 space-y-2 overflow-y-auto rounded-md border border-line bg-paper p-3 text-ink shadow-xl"
        >
          <label className="block text-xs text-ink-2">
            Shape
            <select
              className="field block w-full"
              value={shape.id}
              onChange={(e) => {
                const next = SHAPES.find((s) => s.id === e.target.value)!;
                setShape(next);
                void ask(typed, next);
              }}
            >
              {SHAPES.map((s) => (
                <option key={s.id} value={s.id}>
                  {s.words}
                </option>
              ))}
            </select>
          </label>
          <div className="flex gap-2">
            {shape.fields.map(([field, label]) => (
              <label key={field} className="min-w-0 flex-1 text-xs text-ink-2">
                {label}
                <input
                  className="field block w-full"
                  inputMode="decimal"
                  value={typed[field] ?? ""}
                  onChange={(e) => void ask({ ...typed, [field]: e.target.value })}
                />
              </label>
            ))}
          </div>
          <p className="text-sm" role="status">
            {found ? found.words : "Sizes of the part, greater than 0."}
          </p>
          <Popover.Close asChild>
            <Push
              className="w-full"
              data-strong
              disabled={!found}
              onClick={() => found && p.onArea(Number(sensible(found.cm2, 3)))}
            >
              Take it
            </Push>
          </Popover.Close>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
