import { seededRandom, type Random } from "../../random";
import { add, addNoise, rise, silence, single, type NoiseBurst, type Samples } from "../signal/dsp";
import { fromDb } from "../signal/gain";
import { addModes, type Mode } from "../signal/modes";
import { soften, spotGain, type Channels, type DrumVoice, type StrikePoint, type Excitation } from "./drum-voice";

/** A piece of thin metal: it rings in very many partials that lie in no ratio to each other. */
export interface Plate {
  /** Which piece: one keeps its partials, whoever strikes it. */
  readonly seed: number;
  readonly partials: number;
  readonly lowHertz: number;
  readonly highHertz: number;
  /** How much of all its energy is in an octave, dB: around 250 Hz, 500 Hz and so on up to 16 kHz, in straight lines between them. */
  readonly octaveDb: readonly [number, number, number, number, number, number, number];
  /** In how long the lowest and the highest partial fall by 60 dB; by octaves in a straight line between them. */
  readonly lowSeconds: number;
  readonly highSeconds: number;
  /** What lies too close together to be told apart: noise, on each side its own. */
  readonly wash?: NoiseBurst;
  /** What lies above that comes only by and by, in so long. */
  readonly bloom?: { readonly fromHertz: number; readonly seconds: number };
}

/** Of the partials so many are heard on both sides, of the others each on one: the sides hang together by about 0.6. */
const SHARED = 0.45;

/** The noise of a stroke, before it is known how hard it is. */
type Contact = (force: number) => readonly NoiseBurst[];

/** A plate that is struck: what rings at a spot, the duller the softer, and the noise of what strikes it. */
export function struckPlate(
  plate: Plate,
  contact: Contact,
  prepare?: (rung: Samples, point: StrikePoint) => void,
): DrumVoice {
  return (point) => {
    const rung = ringPlate(plate, point);
    if (prepare) for (const side of rung) prepare(side, point);
    return (stroke) => strike(rung, contact(stroke.force), point.sampleRate, stroke);
  };
}

function strike(
  rung: Channels,
  bursts: readonly NoiseBurst[],
  sampleRate: number,
  { force, random }: Excitation,
): Channels {
  const noise = new Float32Array(rung[0]!.length);
  for (const burst of bursts) addNoise(noise, burst, sampleRate, random);
  return rung.map((ringing) => {
    const side = ringing.slice();
    add(side, noise);
    soften(side, force, sampleRate);
    return side;
  });
}

/** What rings when it is struck at a spot with all force, left and right. */
function ringPlate(plate: Plate, { sampleRate, random }: StrikePoint): Channels {
  const modes = plateModes(plate, random);
  const side = seededRandom(plate.seed + 1);
  const sides = modes.map(() => {
    const draw = side();
    return draw < SHARED ? "both" : draw < (1 + SHARED) / 2 ? "left" : "right";
  });
  const ring = (wanted: string) =>
    ringModes(
      plate,
      modes.filter((_, index) => sides[index] === wanted),
      sampleRate,
    );
  const [both, left, right] = [ring("both"), ring("left"), ring("right")];
  for (const side of [left, right]) {
    add(side, both);
    if (plate.wash) addNoise(side, plate.wash, sampleRate, random);
  }
  return [left, right];
}

function ringModes({ lowSeconds, highSeconds, bloom }: Plate, modes: readonly Mode[], sampleRate: number): Samples {
  const [out, late] = [1, 2].map(() => silence(Math.max(lowSeconds, highSeconds), sampleRate)) as [Samples, Samples];
  if (!bloom) {
    addModes(out, modes, sampleRate);
    return out;
  }
  const isLate = ({ hertz }: Mode) => hertz > bloom.fromHertz;
  addModes(late, modes.filter(isLate), sampleRate);
  rise(late, bloom.seconds, sampleRate);
  addModes(
    out,
    modes.filter((mode) => !isLate(mode)),
    sampleRate,
  );
  add(out, late);
  return out;
}

/** Partials lie a little denser below, by how many a hertz. @param spot where it is struck */
export function plateModes(plate: Plate, spot: Random): readonly Mode[] {
  const metal = seededRandom(plate.seed);
  const { partials, lowHertz, highHertz, lowSeconds, highSeconds } = plate;
  const hertz = Array.from({ length: partials }, (_, index) => {
    const share = (index + metal()) / partials;
    return lowHertz + (highHertz - lowHertz) * share * (0.35 + 0.65 * share);
  });
  const octaves = Math.log2(highHertz / lowHertz);
  return hertz.map((one, index) => {
    // What its neighbours leave it of the energy of its octave.
    const [below, above] = [hertz[index - 1] ?? lowHertz, hertz[index + 1] ?? highHertz];
    const width = Math.log2(above / below) / 2;
    const share = Math.log2(one / lowHertz) / octaves;
    const decaySeconds = single(lowSeconds + (highSeconds - lowSeconds) * share) * (0.75 + 0.5 * metal());
    return {
      hertz: one,
      decaySeconds,
      gain:
        fromDb(octaveLevel(plate.octaveDb, one)) *
        spotGain(spot) *
        single(Math.sqrt(width / decaySeconds)) *
        (0.5 + metal()),
      turns: metal(),
    };
  });
}

function octaveLevel(octaveDb: Plate["octaveDb"], hertz: number): number {
  const place = Math.min(octaveDb.length - 1, Math.max(0, Math.log2(hertz / 250)));
  const below = Math.min(octaveDb.length - 2, Math.floor(place));
  return octaveDb[below]! + (octaveDb[below + 1]! - octaveDb[below]!) * (place - below);
}
