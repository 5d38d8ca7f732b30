import { Popover } from "radix-ui";

/** A word of the trade, explained in one sentence on tap. */
export function Term({ word, explained }: { word: string; explained: string }) {
  return (
    <Popover.Root>
      <Popover.Trigger className="min-h-14 cursor-help underline decoration-dotted underline-offset-4">{word}</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content sideOffset={6} className="z-50 max-w-96 border-2 border-ink bg-paper p-4 text-lg text-ink">
          {explained}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
