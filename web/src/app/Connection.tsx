import { Dialog } from "radix-ui";
import { useSyncExternalStore } from "react";

import { connection, DATABASE_AWAY, NOT_CONNECTED } from "@/api/connection";
import type { Schemas } from "@/api/client";
import { SignIn } from "@/features/signin/SignIn";
import { tr } from "@/lib/language";

/** What every screen says while the application cannot be reached, and the way back in where the sign-in has run out. The screen
 * underneath stays as it is, with all that was typed. */
export function Connection({ me, onDone }: { me: Schemas["Me"]; onDone: (found: Schemas["Me"]) => void }) {
  const { lost, away, expired } = useSyncExternalStore(connection.subscribe, connection.get);
  return (
    <>
      {lost || away ? (
        <p role="status" className="fixed inset-x-0 top-0 z-50 border-b-4 border-rust bg-paper px-7 py-3 text-2xl font-semibold">
          {lost ? NOT_CONNECTED : DATABASE_AWAY}
        </p>
      ) : null}
      <Dialog.Root open={expired}>
        <Dialog.Portal>
          <Dialog.Content
            aria-describedby={undefined}
            onEscapeKeyDown={(e) => e.preventDefault()}
            className="fixed inset-0 z-50 flex flex-col overflow-y-auto bg-paper"
          >
            <Dialog.Title className="px-10 pt-8 text-2xl">
              {tr("Your sign-in has run out, {instructor}. What you typed is kept.", { instructor: me.instructor })}
            </Dialog.Title>
            <div className="min-h-0 flex-1">
              <SignIn
                onDone={(found) => {
                  if (found.instructor_id !== me.instructor_id) window.location.assign("/");
                  onDone(found);
                  connection.signedIn();
                }}
              />
            </div>
          </Dialog.Content>
        </Dialog.Portal>
      </Dialog.Root>
    </>
  );
}
