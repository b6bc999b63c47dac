import { Dialog } from 'radix-ui';
import type { ReactNode } from 'react';

/** A panel over the page for something short; Escape closes it, focus stays inside. */
export function Modal({
  title,
  onClose,
  children,
  width = 460,
}: {
  title: string;
  onClose: () => void;
  children: ReactNode;
  width?: number;
}) {
  return (
    <Dialog.Root open onOpenChange={(open) => (open ? undefined : onClose())}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-30 bg-black/25" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-16 left-1/2 z-40 max-h-[82vh] max-w-[94vw] -translate-x-1/2 overflow-y-auto border border-strong bg-page p-5"
          style={{ width }}
        >
          <Dialog.Title className="mb-3 text-[16px] font-bold">{title}</Dialog.Title>
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
