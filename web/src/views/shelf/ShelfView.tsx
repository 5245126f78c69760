/** The shelf: jars by what carries them, filled to what is left; use is taken off by the journal. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, must, plainWords, type JarRow, type Problem } from "../../api/client";
import { volume } from "../../drawing/units";
import { useShipped } from "../../parts/BuildDoor";
import { Finder } from "../../parts/Finder";
import { Sheet } from "../../parts/Panel";
import { SettingsButton } from "../../parts/SettingsButton";
import { Push } from "../../parts/Push";
import { Typed } from "../../parts/Field";

export function ShelfView() {
  const client = useQueryClient();
  const known = useShipped();
  const [open, setOpen] = useState<JarRow | "new" | null>(null);
  const [why, setWhy] = useState("");
  const { data } = useQuery({
    queryKey: ["shelf"],
    queryFn: async () => must(await api.GET("/api/shelf")),
  });
  const put = async (jar: Omit<JarRow, "words" | "colour" | "carrier">) => {
    const { data: now, error } = await api.POST("/api/shelf", { body: jar });
    if (now) {
      client.setQueryData(["shelf"], now);
      setOpen(null);
      setWhy("");
    } else setWhy(plainWords((error as { problems?: Problem[] }).problems));
  };
  const off = async (id: string) => {
    const { data: now } = await api.DELETE("/api/shelf/{jar_id}", { params: { path: { jar_id: id } } });
    if (now) client.setQueryData(["shelf"], now);
    setOpen(null);
  };
  const groups = [...new Set((data ?? []).map((j) => j.carrier))].sort();
  return (
    <main className="mx-auto max-w-6xl space-y-6 px-4 py-6" aria-busy={data ? undefined : true}>
      <header className="flex flex-wrap items-baseline gap-4">
        <Link to="/" className="underline">
          All builds
        </Link>
        <h1 className="text-xl font-bold">Shelf</h1>
        <span className="ml-auto flex gap-1">
          <Push data-strong onClick={() => setOpen("new")}>
            Put a jar on it
          </Push>
          <SettingsButton />
        </span>
      </header>
      {data?.length === 0 ? (
        <p className="max-w-xl">
          Nothing stands here yet. Put a jar on the shelf with what is left in it: what the bench uses is then
          taken off, and old masks, settled washes and skinned enamels are told of at the step that needs
          them.
        </p>
      ) : null}
      {groups.map((g) => (
        <section key={g}>
          <h2 className="text-sm font-semibold text-ink-2">{g}</h2>
          <ul className="mt-2 flex flex-wrap items-end gap-5 border-b-4 border-line px-2 pb-1">
            {data!
              .filter((j) => j.carrier === g)
              .map((j) => (
                <li key={j.id} className="w-24 text-center">
                  <button type="button" className="block w-full" onClick={() => setOpen(j)}>
                    <Jar jar={j} />
                    <span className="block text-sm leading-tight">{j.name}</span>
                    <span className="block text-xs text-ink-2">{volume(j.left_ml)} left</span>
                    {j.words ? <span className="block text-xs font-semibold">old: look</span> : null}
                  </button>
                </li>
              ))}
          </ul>
        </section>
      ))}
      <Sheet
        open={open !== null}
        title={open === "new" ? "A jar" : (open?.name ?? "")}
        onClose={() => setOpen(null)}
      >
        {open && known ? (
          <JarForm
            key={open === "new" ? "new" : open.id}
            jar={open === "new" ? null : open}
            options={[
              ...known.coats.map((c) => ({ value: c.id, label: c.name, words: c.words })),
              ...known.thinners.map((t) => ({ value: t.id, label: t.name, words: t.words })),
              ...known.touches.map((t) => ({ value: t.id, label: t.name, words: t.words })),
            ]}
            onPut={(jar) => void put(jar)}
            onOff={(id) => void off(id)}
          />
        ) : null}
        {why ? (
          <p role="alert" className="mt-2 text-sm font-semibold">
            {why}
          </p>
        ) : null}
      </Sheet>
    </main>
  );
}

function Jar({ jar }: { jar: JarRow }) {
  const share = Math.min(Math.max(jar.left_ml / jar.full_ml, 0), 1);
  return (
    <svg viewBox="0 0 60 74" width="60" height="74" className="mx-auto" aria-hidden="true">
      <rect x="12" y="2" width="36" height="9" rx="2" fill="var(--paper-2)" stroke="var(--edge)" />
      <rect x="6" y="13" width="48" height="58" rx="6" fill="var(--paper)" />
      <rect
        x="7"
        y={70 - 55 * share}
        width="46"
        height={55 * share}
        fill={jar.colour ?? "var(--line-soft)"}
      />
      <rect x="6" y="13" width="48" height="58" rx="6" fill="none" stroke="var(--edge)" strokeWidth="1.5" />
    </svg>
  );
}

function JarForm(p: {
  jar: JarRow | null;
  options: { value: string; label: string; words: string }[];
  onPut: (jar: Omit<JarRow, "words" | "colour" | "carrier">) => void;
  onOff: (id: string) => void;
}) {
  const [material, setMaterial] = useState(p.jar?.material ?? "");
  const [name, setName] = useState(p.jar?.name ?? "");
  const [full, setFull] = useState(String(p.jar?.full_ml ?? 17));
  const [left, setLeft] = useState(String(p.jar?.left_ml ?? 17));
  const [opened, setOpened] = useState(p.jar?.opened_on ?? "");
  return (
    <form
      className="space-y-3"
      onSubmit={(e) => {
        e.preventDefault();
        const called = name.trim() || p.options.find((o) => o.value === material)?.label || "";
        p.onPut({
          id: p.jar?.id ?? crypto.randomUUID().slice(0, 12),
          material,
          name: called,
          full_ml: Number(full.replace(",", ".")),
          left_ml: Number(left.replace(",", ".")),
          opened_on: opened || null,
        });
      }}
    >
      {p.jar?.words ? <p className="text-sm font-semibold">{p.jar.words}</p> : null}
      {p.jar ? null : <Finder label="What it is" value={material} options={p.options} onTake={setMaterial} />}
      <Typed label="Called" value={name} onType={setName} maxLength={120} />
      <div className="grid grid-cols-3 gap-3">
        <Typed label="Full, mL" value={full} onType={setFull} inputMode="decimal" />
        <Typed label="Left, mL" value={left} onType={setLeft} inputMode="decimal" />
        <Typed label="Open since" value={opened} onType={setOpened} type="date" />
      </div>
      <div className="flex gap-2">
        <button type="submit" className="push" data-strong disabled={!material}>
          {p.jar ? "Counted" : "Put it on the shelf"}
        </button>
        {p.jar ? <Push onClick={() => p.onOff(p.jar!.id)}>Take it off</Push> : null}
      </div>
    </form>
  );
}
