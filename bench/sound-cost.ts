import { KIT_IDS, KITS } from "../src/core/instruments";
import { emptyTable } from "../src/core/sound/player/event-table";
import { newKernel } from "../src/core/sound/kernel/new-kernel";
import { Limiter } from "../src/core/sound/mix/limiter";
import { MAX_VOICES } from "../src/core/sound/mix/mixer";
import { Player } from "../src/core/sound/player/player";
import { renderSounds } from "../src/core/sound/kits/render-sounds";
import type { Sound } from "../src/core/sound/signal/sound";
import { soundsOf } from "../src/core/sound/kits/sound-sets";
import type { Ticks } from "../src/core/time/ticks";
import type { Row } from "./row";

const RATE = 48_000;
const BLOCK = 128;
const SECONDS = 4;
const LANES = 128;

/** What all that a voice can have costs the audio thread, and what kits cost that are made for the first time. */
export function soundRows(processorMs: (work: () => void) => number): readonly Row[] {
  const play = manyVoices();
  play();
  const share = processorMs(play) / (10 * SECONDS);
  const kits = KIT_IDS.map((kit) => ({
    name: KITS[kit].name,
    all: processorMs(() => void renderSounds(soundsOf(kit), RATE)),
    kick: processorMs(() => void renderSounds([`${kit}/kick`], RATE)),
  }));
  return [
    {
      what: "audio thread, 64 voices of two sides at another pitch, with decay, in the room, and the limiter at work: processor time",
      budget: "< 15 % of a core",
      measured: `${share.toFixed(1)} %`,
      kept: share < 15,
    },
    ...kits.map(({ name, all, kick }) => ({
      what: `${name}, made on a first visit by two workers, and its kick, which comes first: processor time of each`,
      budget: "< 2 s, < 0.4 s",
      measured: `${(all / 2000).toFixed(1)} s, ${(kick / 1000).toFixed(2)} s`,
      kept: all < 4000 && kick < 400,
    })),
  ];
}

/** Of a sound that lasts, so that what is struck goes on sounding. @returns plays on for four seconds */
function manyVoices(): () => void {
  const wave = (frames: number) => Float32Array.from({ length: 60 * RATE }, (_, at) => 0.2 * Math.sin(at / frames));
  const sound: Sound = {
    layers: [[wave(9)]],
    right: [[wave(11)]],
    velocities: [127],
    gainLeft: 1,
    gainRight: 1,
    chokeGroup: 0,
  };
  const table = { ...emptyTable(120, { beats: 4, unit: 4 }, 3840 as Ticks), partId: 1 };
  const player = new Player(RATE, table, undefined, newKernel(RATE, 32 * 2 ** 20));
  player.addSounds({ long: sound });
  const struck = [{ soundId: "long", rate: 1.1, decaySeconds: 60 }];
  player.setLanes(1, { lanes: Array.from({ length: LANES }, () => struck) });
  const gains = new Float32Array(2 * LANES).fill(1);
  player.mix(1, { gains, room: new Float32Array(LANES).fill(0.3), muted: new Uint8Array(LANES) });
  const limiter = new Limiter(RATE);
  for (let voice = 0; voice < MAX_VOICES; voice++) player.hit(1, voice, 127);
  const [left, right] = [new Float32Array(BLOCK), new Float32Array(BLOCK)];
  return () => {
    for (let frame = 0; frame < SECONDS * RATE; frame += BLOCK) {
      player.process(left, right);
      limiter.process(left, right);
    }
  };
}
