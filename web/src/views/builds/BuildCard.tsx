/** A build as a small rack, with what is wrong in it and what comes next. */
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, must } from "../../api/client";
import { LineSample } from "../../drawing/Line";
import { SmallRack } from "../../drawing/SmallRack";
import { dateFormat, hourCycle } from "../../drawing/time";
import { tellCounts } from "../../model/live";
import { SaveLink } from "../../parts/Save";
import { Push } from "../../parts/Push";

function moment(iso: string): string {
  return dateFormat({
    weekday: "short",
    day: "numeric",
    month: "short",
    minute: "2-digit",
    ...hourCycle(),
  }).format(new Date(iso));
}

export function BuildCard(p: {
  build: { id: string; name: string; revision: number; zones: number; steps: number };
  onRemove: () => void;
}) {
  const b = p.build;
  const { data: seen } = useQuery({
    queryKey: ["glance", b.id, b.revision],
    queryFn: async () =>
      must(await api.GET("/api/builds/{build_id}/glance", { params: { path: { build_id: b.id } } })),
    staleTime: 60_000,
  });
  const counts = seen?.counts;
  const wrong = counts ? tellCounts(counts) || (b.steps ? "all seams are sound" : "nothing laid yet") : null;
  const worst = counts?.clash ? "clash" : counts?.wait ? "wait" : counts?.caution ? "caution" : "sound";
  return (
    <li className="relative flex flex-col rounded-md border border-line bg-paper p-3">
      <Link to={`/build/${b.id}`} className="after:absolute after:inset-0 hover:underline">
        <strong className="text-lg leading-tight">{b.name}</strong>
      </Link>
      <span className="text-xs text-ink-2">
        {b.zones === 1 ? "1 zone" : `${b.zones} zones`}, {b.steps === 1 ? "1 step" : `${b.steps} steps`}
      </span>
      <div className="mt-2 flex min-h-24 items-end overflow-hidden">
        {seen ? <SmallRack cores={seen.cores} more={seen.more_zones} /> : null}
      </div>
      <div className="mt-2 min-h-[4.5rem] space-y-0.5 text-sm">
        {wrong ? (
          <p className="flex items-center gap-2 font-semibold">
            <LineSample verdict={worst} width={26} />
            {wrong}
          </p>
        ) : seen ? (
          <p className="text-ink-2">Too long to be judged from here: open it.</p>
        ) : null}
        {seen?.worst ? <p className="truncate text-ink-2">{seen.worst}</p> : null}
        {seen?.next ? (
          <p className="text-ink-2">
            {seen.next.done ? "next" : "begins"} {moment(seen.next.starts_at)}: {seen.next.step}
          </p>
        ) : seen?.end_at ? (
          <p className="text-ink-2">all of it is past: {moment(seen.end_at)}</p>
        ) : null}
      </div>
      <div className="relative z-[1] mt-2 flex gap-1 self-end">
        <SaveLink
          className="push"
          data-bare
          href={`/api/builds/${b.id}/build.zip`}
          aria-label={`Save ${b.name} as a file`}
        >
          Save
        </SaveLink>
        <Push data-bare aria-label={`Delete ${b.name}`} onClick={p.onRemove}>
          Delete
        </Push>
      </div>
    </li>
  );
}
