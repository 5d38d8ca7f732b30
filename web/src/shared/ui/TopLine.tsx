import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { useState, type ReactNode } from "react";

import { api, data, type Schemas } from "@/api/client";
import { keys } from "@/api/keys";

import { Account } from "./Account";

/** The one line at the top: what this is, and where else to go. */
interface Props {
  title: string;
  context?: ReactNode;
  /** Things to tap beside the title; never cut off. */
  actions?: ReactNode;
  /** In a lesson the way through it comes first: fewer other places to go. */
  lesson?: boolean;
  children?: ReactNode;
}

export function TopLine({ title, context, actions, lesson, children }: Props) {
  const me = useQuery<Schemas["Me"]>({ queryKey: keys.me, queryFn: ({ signal }) => data(api.GET("/api/me", { signal })), staleTime: Infinity });
  const [account, setAccount] = useState(false);
  return (
    <header className="no-print flex h-16 flex-none items-center gap-4 border-b-2 border-hairline px-7">
      <h1 className="text-[28px] font-bold whitespace-nowrap">{title}</h1>
      {actions ? <div className="flex flex-none items-center gap-4 text-lg">{actions}</div> : null}
      <div className="min-w-0 flex-1 truncate text-xl text-muted">{context}</div>
      <nav className="flex items-center gap-1 text-lg">
        {children}
        <Link to="/" className="grid min-h-14 place-items-center px-3" activeOptions={{ exact: true }} activeProps={{ className: "font-bold" }}>
          Today
        </Link>
        {lesson ? null : (
          <Link to="/players" className="grid min-h-14 place-items-center px-3" activeProps={{ className: "font-bold" }}>
            Players
          </Link>
        )}
        {lesson ? null : (
          <Link to="/benchmarks" className="grid min-h-14 place-items-center px-3" activeProps={{ className: "font-bold" }}>
            Benchmarks
          </Link>
        )}
        <button type="button" className="min-h-14 px-3" onClick={() => window.dispatchEvent(new Event("finearc-help"))} aria-label="Keys and settings">
          ?
        </button>
        {lesson ? null : (
          <button type="button" className="min-h-14 px-3 text-muted" onClick={() => setAccount(true)}>
            {me.data?.instructor.split(" ")[0] ?? "Account"}
          </button>
        )}
      </nav>
      {me.data ? <Account me={me.data} open={account} onClose={() => setAccount(false)} /> : null}
    </header>
  );
}
