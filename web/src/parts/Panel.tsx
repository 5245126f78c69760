import { Dialog } from "radix-ui";

export function Sheet(p: {
  open: boolean;
  title: string;
  onClose: () => void;
  children: React.ReactNode;
  wide?: boolean;
  widest?: boolean;
}) {
  return (
    <Dialog.Root open={p.open} onOpenChange={(open) => !open && p.onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-20 bg-black/35" />
        <Dialog.Content
          aria-describedby={undefined}
          className={`fixed top-16 left-1/2 z-30 max-h-[80vh]  -translate-x-1/2 overflow-auto rounded-md border border-line bg-paper p-5 text-ink shadow-xl`}
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
