import { useRef } from "react";
import { Dialog } from "radix-ui";

export function Sheet(p: {
  open: boolean;
  title: string;
  onClose: () => void;
  children: React.ReactNode;
  wide?: boolean;
  widest?: boolean;
}) {
  // What opened it has the keyboard again when it closes.
  const opener = useRef<Element | null>(null);
  return (
    <Dialog.Root open={p.open} onOpenChange={(open) => !open && p.onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-20 bg-black/35" />
        <Dialog.Content
          aria-describedby={undefined}
          onOpenAutoFocus={() => {
            opener.current = document.activeElement;
          }}
          onCloseAutoFocus={(e) => {
            e.preventDefault();
            if (opener.current instanceof HTMLElement && opener.current.isConnected) opener.current.focus();
          }}
          className={`fixed top-[min(4rem,6vh)] left-1/2 z-30 max-h-[88vh] -translate-x-1/2 overflow-auto rounded-md border border-line bg-paper p-5 text-ink shadow-xl`}
          style={{ width: `min(94vw, ${p.widest ? 70 : p.wide ? 44 : 32}rem)` }}
        >
          <div className="mb-3 flex items-start gap-3">
            <Dialog.Title className="text-lg font-semibold">{p.title}</Dialog.Title>
            <Dialog.Close className="push ml-auto no-print" data-bare aria-label="Close">
              ✕
            </Dialog.Close>
          </div>
          {p.children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
