/** The rack on paper: cores in their colours, seams with their words, and what there is to say of them. */
import type { Assessment, Plan } from "../../api/client";
import { zoneNames } from "../../model/zones";
import { coatFill, inkOn } from "../../drawing/colour";
import { layOut } from "../../drawing/layout";
import { LineSample, SeamPath } from "../../drawing/Line";
import { shortSpan, type Clockwork } from "../../drawing/time";
import { BASE_PX, CUT_PX } from "../../drawing/tokens";
import { areaWords, told } from "../../drawing/units";
import { useBaseName } from "../../parts/BuildDoor";
import { Page } from "./sheet";

const PX_PER_MM = 96 / 25.4;
const WIDE = 273 * PX_PER_MM;
const HIGH = 122 * PX_PER_MM;
const MOST_CORES = 12; // of a sheet; a longer rack goes on on the next

export function RackSheet({ plan, a, clock }: { plan: Plan; a: Assessment; clock: Clockwork }) {
  const base = useBaseName();
  const all = layOut(plan, a, { width: WIDE, height: HIGH, callout: 0, pitch: 1 }, null).groups;
  const sheets = [];
  for (let i = 0; i < all.length; i += MOST_CORES) sheets.push(all.slice(i, i + MOST_CORES));
  const bad = a.stories.filter((s) => s.seams.length || s.remark);
  return (
    <>
      {sheets.map((groups, n) => (
        <Page
          key={n}
          wide
          title={plan.build.name}
          beside={`1:${plan.build.scale} · ${base(plan.build.base_material)} · ${clock.long(0)} to ${clock.long(a.end_min)}`}
        >
          {n === 0 ? (
            <ul className="paper-stories">
              {bad.slice(0, 6).map((s) => (
                <li key={s.remark ?? s.seams[0]}>
                  <LineSample verdict={s.verdict} width={24} />
                  <span>
                    <strong>
                      {plan.steps?.find((x) => x.id === s.upper_step)?.name}: {s.word}
                    </strong>{" "}
                    ({zoneNames(plan, s.zones)})
                  </span>
                </li>
              ))}
              {bad.length > 6 ? <li>and {bad.length - 6} more</li> : null}
              {bad.length ? null : <li>All seams are sound.</li>}
            </ul>
          ) : null}
          <Cores plan={plan} a={a} zones={groups.map((g) => g.zone)} of={groups} />
        </Page>
      ))}
    </>
  );
}

function Cores(p: { plan: Plan; a: Assessment; zones: string[]; of: { zone: string; zones: string[] }[] }) {
  const { a } = p;
  const base = useBaseName();
  const plan = { ...p.plan, zones: p.plan.zones.filter((z) => p.zones.includes(z.id)) };
  const layout = layOut(plan, a, { width: WIDE, height: HIGH, callout: 0, pitch: 1 }, null);
  const floor = HIGH + 12;
  return (
    <div className="relative" style={{ width: WIDE, height: floor + BASE_PX + 40 }}>
      {layout.columns.map((c) => {
        const zone = plan.zones.find((z) => z.id === c.zone)!;
        const here = p.of.find((g) => g.zone === c.zone)!.zones;
        return (
          <div key={c.zone}>
            {c.rows.map((r) => {
              const coat = a.coats[`${r.step.id}~${c.zone}`];
              const style = { left: c.left, top: floor - r.up - r.height, width: c.width, height: r.height };
              if (r.step.kind !== "coat")
                return (
                  <div key={r.step.id} className="paper-cut" style={style}>
                    {r.height >= CUT_PX / 2 ? <span>{r.step.name}</span> : null}
                  </div>
                );
              return (
                <div
                  key={r.step.id}
                  className="paper-coat"
                  style={{
                    ...style,
                    background: coat
                      ? coatFill(coat.colour, coat.sheen, coat.coverage, { place: null })
                      : "none",
                    color: coat && coat.coverage >= 0.95 ? inkOn(coat.colour) : "#111",
                  }}
                >
                  {r.height >= 12 ? (
                    <span style={coat && coat.coverage < 0.95 ? { background: "#fff" } : {}}>
                      {r.step.name}
                    </span>
                  ) : null}
                </div>
              );
            })}
            <div
              className="paper-coat justify-center"
              style={{ left: c.left, top: floor, width: c.width, height: BASE_PX, background: "#e6e6e2" }}
            >
              {base(zone.base_material ?? p.plan.build.base_material)}
            </div>
            <p
              className="absolute leading-tight"
              style={{ left: c.left, top: floor + BASE_PX + 4, width: c.pitch - 6 }}
            >
              <strong>
                {zone.name}
                {here.length > 1 ? ` × ${here.length}` : ""}
              </strong>
              <br />
              {areaWords(p.plan.zones.filter((z) => here.includes(z.id)).map((z) => z.area_cm2))}
            </p>
            <svg
              className="pointer-events-none absolute inset-0 h-full w-full overflow-visible"
              aria-hidden="true"
            >
              {c.tags.map((t) => (
                <SeamPath
                  key={t.row.step.id}
                  x0={c.left - 3}
                  x1={c.left + c.width + 3}
                  y={floor - t.at}
                  verdict={t.worst.verdict}
                />
              ))}
            </svg>
            {layout.many
              ? null
              : c.tags.map((t) => (
                  <span
                    key={t.row.step.id}
                    className="absolute text-[2.6mm] leading-none font-semibold"
                    style={{ left: c.left + c.width + 6, top: floor - t.up - 18, width: c.gutter }}
                  >
                    {t.worst.seam?.verdict === "wait" && t.worst.seam.opens_careful_min !== null
                      ? `wait ${shortSpan(t.worst.seam.opens_careful_min - t.worst.seam.at_min)}`
                      : told(t.worst.word)}
                  </span>
                ))}
          </div>
        );
      })}
    </div>
  );
}
