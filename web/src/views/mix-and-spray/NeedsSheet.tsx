/** Paint and thinner for the whole build, as levels side by side. */
import { volume } from "../../drawing/units";
import { useQuery } from "@tanstack/react-query";
import { api } from "../../api/client";
import { Sheet } from "../../parts/Panel";

export function NeedsSheet(p: { build: string; revision: number; open: boolean; onClose: () => void }) {
  const { data } = useQuery({
    queryKey: ["needs", p.build, p.revision],
    queryFn: async () =>
      (await api.GET("/api/builds/{build_id}/needs", { params: { path: { build_id: p.build } } })).data ?? [],
    enabled: p.open,
  });
  const most = Math.max(...(data ?? []).map((n) => n.high_ml), 1);
  return (
    <Sheet open={p.open} onClose={p.onClose} title="Paint and thinner for the build" wide>
      <ul className="space-y-1 text-sm" data-testid="needs">
        {(data ?? []).map((n) => (
          <li
            key={n.material}
            className="flex flex-wrap min-[640px]:grid min-[640px]:grid-cols-[14rem_1fr_11rem] items-center gap-3"
          >
            <span>
              {n.name}
              <span className="text-ink-2">
                {" "}
                · {n.coats} {n.coats === 1 ? "coat" : "coats"}
              </span>
            </span>
            <span className="relative block h-3" aria-hidden="true">
              <span
                className="absolute h-3 rounded-sm bg-line-soft"
                style={{
                  left: `${(100 * n.low_ml) / most}%`,
                  width: `${(100 * (n.high_ml - n.low_ml)) / most}%`,
                }}
              />
              <span className="absolute h-3 w-[3px] bg-ink" style={{ left: `${(100 * n.ml) / most}%` }} />
            </span>
            <span>
              <strong>{volume(Math.max(n.ml, 0.01))}</strong>{" "}
              <span className="text-ink-2">
                {n.low_ml.toFixed(1)} to {n.high_ml.toFixed(1)}
              </span>
            </span>
          </li>
        ))}
      </ul>
      <p className="mt-3 text-xs text-ink-2">
        Cleaning is not counted. How much of the spray lands may be off by half, so the range is the figure to
        buy by.
      </p>
    </Sheet>
  );
}
