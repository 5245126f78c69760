import { DropdownMenu } from "radix-ui";
import { useNavigate } from "react-router";
import { api, type Plan } from "../api/client";
import { BuildButton } from "./BuildButton";
import { SaveLink } from "./Save";

/** The steps of a build, kept to begin others from. */
async function keepOutline(id: string, name: string, onSaid: (words: string) => void) {
  const { data } = await api.POST("/api/builds/{build_id}/outline", {
    params: { path: { build_id: id } },
    body: { command_id: crypto.randomUUID(), name },
  });
  onSaid(
    data
      ? `“${name}” is kept as an outline: it is offered under All builds, where a build begins.`
      : "The outline was not kept: Emvar did not take it. Try again.",
  );
}

export function BuildMenu({
  id,
  plan,
  onAbout,
  onSaid,
  open,
}: {
  /** It was pressed before it was there. */
  open: boolean;
  id: string;
  plan: Plan;
  onAbout: () => void;
  onSaid: (words: string) => void;
}) {
  const go = useNavigate();
  const item = "flex min-h-8 items-center rounded px-2 text-sm outline-none data-[highlighted]:bg-paper-2";
  return (
    <DropdownMenu.Root defaultOpen={open} modal={false}>
      <DropdownMenu.Trigger asChild>
        <BuildButton plan={plan} />
      </DropdownMenu.Trigger>
      <DropdownMenu.Content
        align="start"
        sideOffset={4}
        className="z-30 w-72 max-w-[96vw] rounded-md border border-line bg-paper p-1 text-ink shadow-xl"
      >
        <DropdownMenu.Item className={item} onSelect={onAbout}>
          This build: zones, schools, own materials
        </DropdownMenu.Item>
        <DropdownMenu.Item className={item} onSelect={() => void keepOutline(id, plan.build.name, onSaid)}>
          Keep its steps as an outline
        </DropdownMenu.Item>
        <DropdownMenu.Item className={item} onSelect={() => go(`/build/${id}/paper/rack`)}>
          Print the rack
        </DropdownMenu.Item>
        <DropdownMenu.Item className={item} onSelect={() => go(`/build/${id}/paper/table`)}>
          Print the table
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
    </DropdownMenu.Root>
  );
}
