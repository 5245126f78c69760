import { DropdownMenu } from "radix-ui";
import { useNavigate } from "react-router";
import type { Plan } from "../api/client";
import { SaveLink } from "./Save";

export function BuildMenu({ id, plan, onAbout }: { id: string; plan: Plan; onAbout: () => void }) {
  const go = useNavigate();
  const item = "flex min-h-8 items-center rounded px-2 text-sm outline-none data-[highlighted]:bg-paper-2";
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild>
        <button type="button" className="push text-base" data-bare>
          {plan.build.name}
          <span className="text-ink-2">
            1:{plan.build.scale} · {(plan.build.base_material ?? "").replaceAll("_", " ")}
          </span>
          <span aria-hidden="true">▾</span>
        </button>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="start"
          sideOffset={4}
          className="z-30 w-72 rounded-md border border-line bg-paper p-1 text-ink shadow-xl"
        >
          <DropdownMenu.Item className={item} onSelect={onAbout}>
            This build: zones, schools, own materials
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={() => go("/")}>
            All builds, new build, open a file, copies
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} asChild>
            <SaveLink href={`/api/builds/${id}/build.zip`}>Save with schedule, record and history</SaveLink>
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} asChild>
            <SaveLink href={`/api/builds/${id}/plan.json`}>Save as a plan file</SaveLink>
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
