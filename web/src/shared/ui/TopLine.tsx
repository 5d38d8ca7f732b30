import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { useEffect, useState, type ReactNode } from "react";

import { api, data, type Schemas } from "@/api/client";
import { keys } from "@/api/keys";

import { Account } from "./Account";
import { Sheet } from "./Sheet";
import { tr } from "@/lib/language";
import { may } from "@/lib/rights";
import { hear } from "@/lib/speech";

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

const PLACE = "grid min-h-14 min-w-14 place-items-center px-3";

export function TopLine({ title, context, actions, lesson, children }: Props) {
  const me = useQuery<Schemas["Me"]>({ queryKey: keys.me, queryFn: ({ signal }) => data(api.GET("/api/me", { signal })), staleTime: Infinity });
  const told = me.data?.manner;
  useEffect(() => {
    if (told) hear(told);
  }, [told]);
  const [account, setAccount] = useState(false);
  const [menu, setMenu] = useState(false);
  const places = (
    <>
      {children}
      {may(me.data, "diary") ? (
        <Link to="/" className={PLACE} activeOptions={{ exact: true }} activeProps={{ className: "font-bold" }}>
          {tr("Today")}
        </Link>
      ) : null}
      {lesson || !may(me.data, "diary") ? null : (
        <Link to="/diary" className={PLACE} activeProps={{ className: "font-bold" }}>
          {tr("Diary")}
        </Link>
      )}
      {lesson || !may(me.data, "diary") ? null : (
        <Link to="/players" className={PLACE} activeProps={{ className: "font-bold" }}>
          {tr("Players")}
        </Link>
      )}
      {lesson || !may(me.data, "teach") ? null : (
        <Link to="/search" className={PLACE} activeProps={{ className: "font-bold" }}>
          {tr("Search")}
        </Link>
      )}
      {lesson || !may(me.data, "teach") ? null : (
        <Link to="/benchmarks" className={PLACE} activeProps={{ className: "font-bold" }}>
          {tr("Benchmarks")}
        </Link>
      )}
      {lesson ? null : (
        <Link to="/bays" className={PLACE} activeProps={{ className: "font-bold" }}>
          {tr("Bays")}
        </Link>
      )}
      <button type="button" className={PLACE} onClick={() => window.dispatchEvent(new Event("finearc-help"))} aria-label={tr("Keys and settings")}>
        ?
      </button>
      {lesson ? null : (
        <button type="button" className={`${PLACE} text-muted`} onClick={() => setAccount(true)}>
          {me.data?.instructor.split(" ")[0] ?? tr("Account")}
        </button>
      )}
    </>
  );
  return (
    <header className="no-print flex min-h-16 flex-none flex-wrap items-center gap-x-4 border-b-2 border-hairline px-7 max-[1100px]:gap-x-2 max-[1100px]:px-4">
      <h1 className={`min-w-0 font-bold max-[760px]:flex-1 ${title.length > 24 ? "max-w-[340px] text-xl leading-[1.1]" : "text-[28px] leading-[1.1]"}`}>
        {title}
      </h1>
      {actions ? <div className="flex flex-none items-center gap-4 text-lg max-[760px]:order-3 max-[760px]:w-full">{actions}</div> : null}
      <div className="min-w-0 flex-1 text-lg leading-[1.15] text-muted max-[1180px]:invisible max-[760px]:hidden">{context}</div>
      <nav className="flex items-center gap-1 text-lg max-[760px]:hidden">{places}</nav>
      <button
        type="button"
        aria-haspopup="dialog"
        className="hidden min-h-14 min-w-14 rounded-full border-2 border-ink px-4 text-lg font-semibold max-[760px]:block"
        onClick={() => setMenu(true)}
      >
        {tr("Menu")}
      </button>
      <Sheet open={menu} onClose={() => setMenu(false)} title={title}>
        {context ? <div className="mb-3 text-xl text-muted">{context}</div> : null}
        {/* eslint-disable-next-line jsx-a11y/click-events-have-key-events, jsx-a11y/no-static-element-interactions -- whatever is chosen inside closes the menu */}
        <div className="flex flex-col items-start gap-1 text-2xl" onClick={() => setMenu(false)}>
          {places}
        </div>
      </Sheet>
      {me.data ? <Account me={me.data} open={account} onClose={() => setAccount(false)} /> : null}
    </header>
  );
}
