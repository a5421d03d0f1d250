import type { Page } from "@playwright/test";
import type { Beat } from "@/core/beat/beat";
import { seededRandom } from "@/core/random";
import type { LookbackHit } from "@/core/recover/echo";

export const ECHO_HITS = 200;
const ECHOES = 100;

/** 20,000 strokes in phrases of 200, the last one a minute ago. */
export function manyEchoes(): readonly LookbackHit[] {
  const random = seededRandom(3);
  const phraseMs = ECHO_HITS * 125 + 5000;
  const startMs = Date.now() - 60_000 - ECHOES * phraseMs;
  const pads = [8, 0, 8, 1];
  const notes = [42, 36, 42, 38];
  return Array.from({ length: ECHOES * ECHO_HITS }, (_, index) => ({
    timeMs: startMs + Math.floor(index / ECHO_HITS) * phraseMs + (index % ECHO_HITS) * 125 + 16 * (random() - 0.5),
    pad: pads[index % 4]!,
    note: notes[index % 4]!,
    velocity: 60 + Math.floor(60 * random()),
    device: "bench",
    beatId: "bench",
    partId: 1,
  }));
}

/** Puts beats and what was played into the browser's store, as the app keeps them. */
export async function store(page: Page, beats: readonly Beat[], hits: readonly LookbackHit[]): Promise<void> {
  await page.evaluate(
    async ({ beats, chunks }) => {
      const database = await new Promise<IDBDatabase>((done) => {
        const request = indexedDB.open("echo-pocket");
        request.onsuccess = () => done(request.result);
      });
      const work = database.transaction(["beats", "lookback"], "readwrite");
      for (const beat of beats) work.objectStore("beats").put({ id: beat.id, changedAt: Date.now(), beat });
      for (const chunk of chunks) work.objectStore("lookback").add(chunk);
      await new Promise((done) => (work.oncomplete = done));
      database.close();
    },
    {
      beats,
      chunks: Array.from({ length: ECHOES }, (_, index) => {
        const own = hits.slice(index * ECHO_HITS, (index + 1) * ECHO_HITS);
        return { count: own.length, lastMs: own.at(-1)!.timeMs, hits: JSON.stringify(own) };
      }),
    },
  );
}

/** Copies of a demo beat, "Crossing 0" the newest of them; made in the page, as that much can't be handed over. */
export async function putCopies(page: Page, count: number): Promise<void> {
  await page.evaluate(
    async ({ count, copied }) => {
      const database = await new Promise<IDBDatabase>((done) => {
        const request = indexedDB.open("echo-pocket");
        request.onsuccess = () => done(request.result);
      });
      const work = database.transaction("beats", "readwrite");
      // One moment for all of them, whatever writing them takes.
      const now = Date.now();
      const beats = work.objectStore("beats");
      beats.get(copied).onsuccess = ({ target }) => {
        const { beat } = (target as IDBRequest<{ beat: object }>).result;
        for (let at = 0; at < count; at++) {
          const id = `many-${at}`;
          beats.put({ id, changedAt: now + count - at, beat: { ...beat, id, name: `Crossing ${at}` } });
        }
      };
      await new Promise((done) => (work.oncomplete = done));
      database.close();
    },
    { count, copied: "gangway-shuffle" },
  );
}
