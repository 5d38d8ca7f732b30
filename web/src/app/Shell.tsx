import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Outlet, useNavigate } from "@tanstack/react-router";
import { useEffect, useState } from "react";

import { api, data, Problem, setCsrf } from "@/api/client";
import { keys } from "@/api/keys";
import { Bare } from "@/features/signin/Bare";
import { SignIn } from "@/features/signin/SignIn";
import { useKeys } from "@/shared/ui/keys";
import { change, isDark } from "@/lib/settings";
import { ErrorLine, Loading } from "@/shared/ui/controls";

import { Connection } from "./Connection";
import { Help } from "./Help";
import { tr } from "@/lib/language";
import { may } from "@/lib/rights";

/** Signed in or not; the keys that work everywhere. */
export function Shell() {
  const client = useQueryClient();
  const me = useQuery({
    queryKey: keys.me,
    queryFn: async () => {
      const found = await data(api.GET("/api/me"));
      setCsrf(found.csrf);
      return found;
    },
    retry: false,
    staleTime: Infinity,
  });
  const [help, setHelp] = useState(false);

  const navigate = useNavigate();
  useKeys({
    "/": () => window.location.pathname !== "/search" && void navigate({ to: "/search" }),
    "?": () => setHelp((open) => !open),
    d: () => change({ theme: isDark() ? "light" : "dark" }),
  });
  useEffect(() => {
    const onHelp = () => setHelp(true);
    window.addEventListener("finearc-help", onHelp);
    return () => window.removeEventListener("finearc-help", onHelp);
  }, []);

  const watches = me.data !== undefined && !may(me.data, "diary");
  useEffect(() => {
    if (watches && !/^\/(bays|screen)/.test(window.location.pathname)) void navigate({ to: "/bays", replace: true });
  }, [watches, navigate]);

  if (me.isPending) return <Loading what={tr("Opening")} />;
  if (me.error) {
    if (me.error instanceof Problem && me.error.status === 401)
      return (
        <SignIn
          onDone={(found) => {
            setCsrf(found.csrf);
            client.setQueryData(keys.me, found);
          }}
        />
      );
    return (
      <main className="p-10">
        <ErrorLine error={me.error} />
      </main>
    );
  }
  if (me.data.bare) return <Bare me={me.data} />;
  return (
    <>
      <Outlet />
      <Connection
        me={me.data}
        onDone={(found) => {
          setCsrf(found.csrf);
          client.setQueryData(keys.me, found);
        }}
      />
      <Help open={help} onClose={() => setHelp(false)} />
    </>
  );
}
