import { Dialog } from "radix-ui";
import type { ReactNode } from "react";
import { tr } from "@/lib/language";

/** A panel over part of the page. Not modal: nothing locks while a player swings. */
export function Sheet(props: { open: boolean; onClose: () => void; title: string; wide?: boolean; children: ReactNode }) {
  return (
    <Dialog.Root open={props.open} onOpenChange={(open) => !open && props.onClose()} modal={false}>
      <Dialog.Portal>
        <Dialog.Content
          aria-describedby={undefined}
          onInteractOutside={(event) => event.preventDefault()}
          className={`fixed top-0 right-0 z-40 flex h-full flex-col border-l-2 border-ink bg-paper ${props.wide ? "w-[860px]" : "w-[600px]"} max-w-full`}
        >
          <div className="flex items-center justify-between gap-4 border-b border-hairline px-7 py-3 max-[700px]:px-4">
            <Dialog.Title className="min-w-0 text-2xl leading-tight font-bold">{props.title}</Dialog.Title>
            <Dialog.Close className="min-h-14 min-w-14 rounded-full border-2 border-ink px-4 text-lg font-semibold">{tr("Close")}</Dialog.Close>
          </div>
          <div className="min-h-0 flex-1 overflow-y-auto px-7 py-5 max-[700px]:px-4">{props.children}</div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
