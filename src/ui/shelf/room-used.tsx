"use client";

import { useEffect, useState } from "react";
import { readRoom, type Room } from "@/store/persistence/storage-room";

/** How much of the browser's room is used, and whether it may be cleared. */
export function RoomUsed() {
  const [room, setRoom] = useState<Room>();
  useEffect(() => {
    void readRoom().then(setRoom);
  }, []);
  if (!room) return null;
  return (
    <span>
      <span className="numerals">{megabytes(room.usedBytes)}</span> of{" "}
      <span className="numerals">{megabytes(room.quotaBytes)}</span> used;{" "}
      {room.persisted
        ? "the browser keeps it until you delete it."
        : "a browser that runs short of room may clear it, so export what matters."}
    </span>
  );
}

function megabytes(bytes: number): string {
  const mega = bytes / 2 ** 20;
  return mega < 1024 ? `${Math.ceil(mega)} MB` : `${Math.round(mega / 1024)} GB`;
}
