import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { api, data } from "@/api/client";
import { keys } from "@/api/keys";
import { Button, ErrorLine } from "@/shared/ui/controls";
import { tr } from "@/lib/language";

/** Names of markers that are remembered from earlier files; what is wrong is forgotten here. */
export function Presets() {
  const client = useQueryClient();
  const presets = useQuery({ queryKey: keys.presets, queryFn: ({ signal }) => data(api.GET("/api/marker-presets", { signal })) });
  const forget = useMutation({
    mutationFn: (id: string) => data(api.DELETE("/api/marker-presets/{preset_id}", { params: { path: { preset_id: id } } })),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.presets }),
  });
  if (!presets.data?.length) return <ErrorLine error={presets.error} />;
  return (
    <section className="mt-8 max-w-[720px]" aria-label={tr("Remembered names")}>
      <h3 className="text-2xl font-bold">{tr("Remembered names")}</h3>
      <ul>
        {presets.data.map((p) => (
          <li key={p.id} className="flex min-h-[68px] items-center justify-between gap-4 border-b border-hairline">
            <span className="text-xl">
              {p.name}{" "}
              <span className="text-muted">
                {tr("· {markers} markers{what}", { markers: p.markers, what: p.handedness === "left" ? tr(" · left-handed") : "" })}
              </span>
            </span>
            <Button tone="quiet" disabled={forget.isPending} onClick={() => forget.mutate(p.id)} aria-label={tr("Forget {name}", { name: p.name })}>
              {tr("Forget")}
            </Button>
          </li>
        ))}
      </ul>
      <ErrorLine error={forget.error} />
    </section>
  );
}
