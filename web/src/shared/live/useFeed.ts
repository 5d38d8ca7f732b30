import { useEffect, useState, useSyncExternalStore } from "react";

import { Feed, type Now } from "@/lib/feed";

const address = (path: string) => `${window.location.origin.replace(/^http/, "ws")}/api${path}`;

/** A feed for as long as the screen is there. */
export function useFeed(path: string, first?: Record<string, unknown>): Feed {
  const [feed] = useState(() => new Feed(address(path), first));
  useEffect(() => {
    feed.start();
    return () => feed.stop();
  }, [feed]);
  return feed;
}

/** What it shows now; drawn anew once a picture at most. */
export function useNow(feed: Feed): Now {
  return useSyncExternalStore(feed.subscribe, feed.get);
}
