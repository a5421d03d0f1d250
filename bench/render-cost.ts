import { spawnSync } from "node:child_process";
import { mkdtempSync, rmSync, statSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { Beat } from "../src/core/beat/beat";
import { firstPlaces } from "../src/core/beat/new-beat";
import { beatToMidi } from "../src/core/formats/midi/beat-to-midi";
import { partSounds } from "../src/core/playback/beat-to-wav";
import { BLOCK_FRAMES } from "../src/core/sound/kernel/layout";
import { lapStream } from "../src/core/sound/player/render";
import { renderSounds } from "../src/core/sound/kits/render-sounds";
import { soundsOf } from "../src/core/sound/kits/sound-sets";
import type { Row } from "./row";

const RATE = 48_000;
const BYTES_A_FRAME = 4;
const SOUND_FONT = "/usr/share/sounds/sf2/TimGM6mb.sf2";
/** Other programs may take what they have of the processor; the least of some runs is what the work needs. */
const RUNS = 5;

/**
 * Renders of one part and of eight, against a general synthesizer that plays the same notes in the same minute; what it plays is one
 * sound a note that is soon over, where cymbals here ring for seconds on two sides.
 */
export function renderRows(one: Beat, eight: Beat): readonly Row[] {
  const bank = renderSounds(soundsOf("deckhouse"), RATE);
  return [
    { name: "one part", beat: one, sent: undefined },
    { name: "eight parts", beat: eight, sent: undefined },
    { name: "eight parts in the room", beat: eight, sent: 0.3 },
  ].map(({ name, beat, sent }) => {
    const ours = leastMs(() => renderedSeconds(beat, bank, sent));
    const peer = synthesizerMs(beat);
    const ratio = peer.ms / peer.seconds / (ours.ms / ours.seconds);
    return {
      what: `render, ${name}: times real time, and times as fast as fluidsynth`,
      budget: ">= 3 x fluidsynth",
      measured: `${((1000 * ours.seconds) / ours.ms).toFixed(0)} x, ${ratio.toFixed(1)} x of ${((1000 * peer.seconds) / peer.ms).toFixed(0)} x`,
      kept: ratio >= 3,
    };
  });
}

interface Took {
  readonly ms: number;
  readonly seconds: number;
}

/** Makes all that a WAV file of a beat has but its bytes. @param sent what of every pad goes into the room */
function renderedSeconds(beat: Beat, bank: ReturnType<typeof renderSounds>, sent: number | undefined): number {
  const parts = partSounds(beat, firstPlaces(beat), RATE).map((part) =>
    sent === undefined || !part.mix ? part : { ...part, mix: { ...part.mix, room: part.mix.room.map(() => sent) } },
  );
  const stream = lapStream(parts, bank, "tail");
  const [left, right] = [new Float32Array(BLOCK_FRAMES), new Float32Array(BLOCK_FRAMES)];
  for (let frame = 0; frame < stream.frames; frame += BLOCK_FRAMES) stream.next(left, right);
  return stream.frames / RATE;
}

function leastMs(work: () => number): Took {
  let least = Infinity;
  let seconds = 0;
  for (let segment = 0; segment < RUNS; segment++) {
    const start = process.cpuUsage();
    seconds = work();
    const { user, system } = process.cpuUsage(start);
    least = Math.min(least, (user + system) / 1000);
  }
  return { ms: least, seconds };
}

function synthesizerMs(beat: Beat): Took {
  const folder = mkdtempSync(join(tmpdir(), "render-"));
  try {
    const [midi, wav] = [join(folder, "notes.mid"), join(folder, "notes.wav")];
    writeFileSync(midi, beatToMidi(beat, firstPlaces(beat), "heard"));
    const play = `fluidsynth -ni -q -r ${RATE} -F ${wav} ${SOUND_FONT} ${midi} > /dev/null 2>&1`;
    const times = Array.from({ length: RUNS }, () => {
      // The shell tells the processor time of what it ran, in seconds.
      const { stderr } = spawnSync("bash", ["-c", `TIMEFORMAT='%U %S'; time ${play}`], { encoding: "utf8" });
      const [user, system] = stderr.trim().split(/\s+/).map(Number) as [number, number];
      return 1000 * (user + system);
    });
    return { ms: Math.min(...times), seconds: statSync(wav).size / BYTES_A_FRAME / RATE };
  } finally {
    rmSync(folder, { recursive: true });
  }
}
