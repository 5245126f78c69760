/** A choice among many: typed, found by the trade's words, taken with Enter; Escape puts back what stood there. */
import { useCombobox } from "downshift";
import { useEffect, useMemo, useRef, useState } from "react";
import type { Item } from "../model/add";
import { search } from "../model/add";
import { useShipped } from "./BuildDoor";

export type Found = {
  value: string;
  label: string;
  /** Said beside it, and searched too. */
  under?: string;
  words?: string;
  swatch?: string | null;
};

export function Finder(p: {
  label: string;
  value: string;
  options: Found[];
  onTake: (value: string) => void;
  className?: string;
  /** The label is for screen readers only. */
  quiet?: boolean;
  large?: boolean;
}) {
  const spelling = useShipped()?.words;
  const chosen = p.options.find((o) => o.value === p.value) ?? null;
  const [query, setQuery] = useState<string | null>(null);
  const items = useMemo(
    () =>
      p.options.map((o): Item & { found: Found } => ({
        key: o.value,
        name: o.label,
        under: o.under ?? "",
        words: `${o.label} ${o.under ?? ""} ${o.words ?? ""}`.toLowerCase(),
        swatch: o.swatch ?? null,
        step: () => null,
        ids: [o.value],
        found: o,
      })),
    [p.options],
  );
  const hits = useMemo(
    () => (query ? search(items, query, spelling) : items).map((i) => (i as (typeof items)[number]).found),
    [items, query, spelling],
  );
  const list = useRef<HTMLDivElement>(null);
  const box = useCombobox<Found>({
    items: hits,
    selectedItem: chosen,
    itemToString: (o) => o?.label ?? "",
    itemToKey: (o) => o?.value,
    inputValue: query ?? chosen?.label ?? "",
    defaultHighlightedIndex: 0,
    onInputValueChange: ({ inputValue, type }) => {
      if (type === useCombobox.stateChangeTypes.InputChange) setQuery(inputValue);
    },
    onIsOpenChange: ({ isOpen }) => {
      if (!isOpen) setQuery(null);
    },
    stateReducer: (_, { type, changes }) =>
      // Leaving the field never takes what happens to be highlighted.
      type === useCombobox.stateChangeTypes.InputBlur ? { ...changes, selectedItem: chosen } : changes,
    onSelectedItemChange: ({ selectedItem }) => {
      if (selectedItem && selectedItem.value !== p.value) p.onTake(selectedItem.value);
    },
    scrollIntoView: (node) => node?.scrollIntoView({ block: "nearest" }),
  });
  const open = box.isOpen;
  useEffect(() => {
    if (open) list.current?.scrollIntoView({ block: "nearest" });
  }, [open]);
  return (
    <div className={`relative ${p.className ?? ""}`}>
      <label {...box.getLabelProps()} className={p.quiet ? "sr-only" : "block text-xs text-ink-2"}>
        {p.label}
      </label>
      <span className="relative block">
        <input
          {...box.getInputProps({
            onFocus: (e) => e.currentTarget.select(),
            onKeyDown: (e) => {
              if (e.key !== "Escape") return;
              // With the list open it closes; with it closed the field is left, and nothing is cleared.
              if (open) e.stopPropagation();
              else (e.nativeEvent as { preventDownshiftDefault?: boolean }).preventDownshiftDefault = true;
            },
          })}
          data-value={p.value}
          className={`field w-full pr-7 ${p.large ? "text-lg font-semibold" : ""}`}
          style={p.large ? { height: 34, fontSize: "var(--text-lg)" } : {}}
        />
        <button
          type="button"
          {...box.getToggleButtonProps()}
          aria-label={`All of: ${p.label}`}
          className="absolute inset-y-0 right-0 w-7 text-ink-2"
        >
          <span aria-hidden="true">▾</span>
        </button>
      </span>
      <div ref={list}>
        <ul {...box.getMenuProps()} className={open ? "finder-list" : "sr-only"} aria-label={p.label}>
          {open
            ? hits.map((o, index) => (
                <li
                  key={o.value}
                  data-option={o.value}
                  {...box.getItemProps({ item: o, index })}
                  className={`flex min-h-7 items-center gap-2 rounded px-1.5 py-0.5 text-sm ${box.highlightedIndex === index ? "bg-paper-2" : ""} ${o.value === p.value ? "font-semibold" : ""}`}
                >
                  {o.swatch ? (
                    <span className="swatch h-4 w-4 shrink-0" style={{ background: o.swatch }} />
                  ) : null}
                  <span className="min-w-0">
                    {o.label}
                    {o.under ? <span className="block text-xs font-normal text-ink-2">{o.under}</span> : null}
                  </span>
                </li>
              ))
            : null}
          {open && !hits.length ? <li className="p-1.5 text-sm">Nothing is called that.</li> : null}
        </ul>
      </div>
    </div>
  );
}
