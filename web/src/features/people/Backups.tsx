import { useBackup } from "@/api/hooks";
import { whenWords } from "@/lib/dates";
import { tr, trn } from "@/lib/language";
import { ErrorLine } from "@/shared/ui/controls";

/** How old the last backup is that was tried out, and what to do where there is none. */
export function Backups() {
  const found = useBackup();
  const now = found.data;
  return (
    <section className="pt-6 pb-8">
      <h2 className="mb-2 text-2xl font-bold">{tr("Backup")}</h2>
      <ErrorLine error={found.error} />
      {now?.verified_at ? (
        <p className="text-lg">
          {tr("Restored on trial and found equal {when}.", { when: whenWords(now.verified_at) })}{" "}
          {now.made_at ? trn("The last one holds {count} swing.", "The last one holds {count} swings.", now.swings) : null}
        </p>
      ) : now?.made_at ? (
        <p className="text-lg">{tr("Made {when}, not tried out yet.", { when: whenWords(now.made_at) })}</p>
      ) : null}
      {now?.late ? (
        <p role={now.made_at || now.trouble ? "alert" : undefined} className="border-l-4 border-rust pl-3 text-lg">
          {now.made_at || now.trouble
            ? tr("No backup was verified for more than a day.")
            : tr("Nothing is backed up. Whoever runs the machine starts the application with --backup and a folder on another disk.")}
          {now.trouble ? <span className="block">{now.trouble}</span> : null}
        </p>
      ) : now?.trouble ? (
        <p className="border-l-4 border-rust pl-3 text-lg">{now.trouble}</p>
      ) : null}
    </section>
  );
}
