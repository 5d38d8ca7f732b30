import { useMutation, useQueryClient } from "@tanstack/react-query";

import { api, type Schemas } from "@/api/client";
import { keys } from "@/api/keys";
import { tr } from "@/lib/language";
import { Button, ErrorLine } from "@/shared/ui/controls";
import { SecondFactor } from "@/shared/ui/SecondFactor";

/** Before anything else opens to an owner whose academy asks for a second factor. */
export function Bare({ me }: { me: Schemas["Me"] }) {
  const client = useQueryClient();
  const signOut = useMutation({
    mutationFn: () => api.POST("/api/sign-out"),
    onSuccess: () => {
      client.clear();
      window.location.assign("/");
    },
  });
  return (
    <main className="h-full overflow-y-auto">
      <div className="mx-auto max-w-[640px] space-y-6 px-6 py-10">
        <h1 className="text-4xl font-bold">{tr("One more thing, {name}.", { name: me.instructor.split(" ")[0] ?? "" })}</h1>
        <p className="text-xl">{tr("{academy} asks its owners for a second factor. Everything else opens once yours is set up.", { academy: me.academy })}</p>
        <SecondFactor onKept={() => void client.invalidateQueries({ queryKey: keys.me })} />
        <Button tone="quiet" onClick={() => signOut.mutate()} disabled={signOut.isPending}>
          {tr("Sign out here")}
        </Button>
        <ErrorLine error={signOut.error} />
      </div>
    </main>
  );
}
