import { createHash } from "node:crypto";
import { readdirSync, readFileSync } from "node:fs";
import { demoBeat } from "../demo/demo-beats";
import { partSounds } from "../playback/beat-to-wav";
import { lapStream } from "../sound/player/render";
import { readBeatFile, writeBeatFile } from "./beat-file";
import { beatToMidi } from "./midi/beat-to-midi";
import { writeWav } from "./wav/wav";
import { standInKit } from "../../../tests/support/stand-in-kit";

const FOLDER = "tests/fixtures/version-1";
const digest = (bytes: Uint8Array) => createHash("sha256").update(bytes).digest("hex").slice(0, 16);

type Digests = Record<"wav" | "tail" | "heard" | "played", string>;
/**
 * By file and pattern, what the first version's own program made of these files; of a stand-in kit, and with the law of velocities
 * that came later, which was put into it for that.
 */
const NOTED = JSON.parse(readFileSync(`${FOLDER}/digests.json`, "utf8")) as Record<string, Digests[]>;
const FILES = readdirSync(FOLDER).filter((name) => name !== "digests.json");

describe("beats that the first version wrote", () => {
  const kit = standInKit(44_100);

  test.each(FILES)("%s sounds, and is written as MIDI, to the bit as then", (name) => {
    const beat = readBeatFile(readFileSync(`${FOLDER}/${name}`, "utf8"));
    expect(readBeatFile(writeBeatFile(beat))).toEqual(beat);
    const [part] = beat.parts;
    const made = part!.patterns.map(({ id }): Digests => {
      const place = { partId: part!.id, patternId: id };
      // The limiter is another one since.
      const sound = (mode: "loop" | "tail") =>
        lapStream(partSounds(beat, [place], 44_100), kit, mode, { limited: false, room: true });
      const wav = (mode: "loop" | "tail") => digest(writeWav(sound(mode), 32, mode === "loop"));
      return {
        wav: wav("loop"),
        tail: wav("tail"),
        heard: digest(beatToMidi(beat, [place], "heard")),
        played: digest(beatToMidi(beat, [place], "played")),
      };
    });
    expect(made).toEqual(NOTED[name.replace(".json", "")]);
  });

  test("the demo's strokes of then are those of now", () => {
    for (const name of ["Slow Harbour", "Gangway Shuffle", "Tide Table", "Lantern Room"]) {
      const file = `${FOLDER}/${name.toLowerCase().replace(" ", "-")}.json`;
      const first = readBeatFile(readFileSync(file, "utf8"));
      // Other parts have come to them since, with ids of their own, and other sounds to their pads.
      const { parts, nextId } = demoBeat(name);
      expect(first.parts[0]!.patterns).toEqual(parts[0]!.patterns);
      expect(nextId).toBeGreaterThan(first.nextId);
    }
  });

  test("one that is spoilt is refused with what is wrong and where, in the words of its own version", () => {
    const spoilt = (change: (hit: Record<string, unknown>) => void) => {
      const file = JSON.parse(readFileSync(`${FOLDER}/lantern-room.json`, "utf8"));
      change(file.beat.parts[0].patterns[0].passes[0].hits[2]);
      return () => readBeatFile(JSON.stringify(file));
    };
    expect(spoilt((hit) => (hit.velocity = 128))).toThrow("/passes/0/hits/2/velocity: must be <= 127, got 128");
    expect(spoilt((hit) => delete hit.playedTicks)).toThrow('/passes/0/hits/2: "playedTicks" is missing');
    expect(spoilt((hit) => (hit.lane = 3))).toThrow('"lane" is not known here');
    expect(spoilt((hit) => (hit.pad = 99))).toThrow("there is no pad 99 in this part");
  });
});
