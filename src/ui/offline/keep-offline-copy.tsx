"use client";

import { useEffect } from "react";

/** Has the app kept in the browser once the page is at rest, so that it opens without a network the next time. */
export function KeepOfflineCopy() {
  useEffect(() => {
    // The development server has no build to keep.
    if (process.env.NODE_ENV !== "production" || !("serviceWorker" in navigator)) return;
    // Where it is forbidden, as in some private windows, the app works all the same as long as the server does.
    const keep = () => void navigator.serviceWorker.register("/offline.js").catch(() => undefined);
    const timer = setTimeout(keep, AT_REST_MS);
    return () => clearTimeout(timer);
  }, []);
  return null;
}

/** By then the first kit is rendered. */
const AT_REST_MS = 4000;
