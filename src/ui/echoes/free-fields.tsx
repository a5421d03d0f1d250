"use client";

import { ArrowCounterclockwise } from "../icons/generated/arrow-counterclockwise";
import { driftOf } from "@/core/recover/pulse/pulse";
import { isLike, type Reading } from "@/core/recover/readings/reading";
import { OFFERED_METERS, type Meter } from "@/core/time/meter";
import { wrap } from "@/core/time/ticks";
import { straightens, type OpenEcho } from "@/store/state/open-echo";
import { TempoChoice } from "./tempo-choice";
import { SettingSelect } from "../common/fields/setting-select";
import { useWorkspace } from "../workspace/use-workspace";
import { DriftCurve } from "./drift-curve";
import { reasonsInWords } from "./reason-words";
import styles from "./echoes.module.scss";

/** A drift under half a percent is nobody's. */
const STEADY = 0.005;

/** How what was played without a click is read, and what the player knows better. */
export function FreeFields({ open }: { readonly open: OpenEcho }) {
  const { recall } = useWorkspace();
  const { readings, chosen } = open;
  const reading = readings?.[chosen];
  if (!readings) return <p className={styles.says}>Reading…</p>;
  if (!reading) return <p className={styles.says}>Too short to find a tempo.</p>;
  return (
    <>
      <ReadingList open={open} readings={readings} />
      {reading.reasons.length > 0 && <p className={styles.says}>Speaks for it: {reasonsInWords(reading)}.</p>}
      <KnownBetter bars={reading.bars} taps={open.taps} />
      <MeterChoice said={open.hints.meter} />
      <TempoChoice bpm={reading.bpm} tempo={open.tempo} onChange={(tempo) => recall.setRecall({ tempo })} />
      <div className={styles.drift}>
        <label className={styles.check}>
          <input
            type="checkbox"
            className="form-check-input"
            checked={straightens(open, reading)}
            onChange={(event) => recall.setRecall({ straighten: event.currentTarget.checked })}
          />
          <span>Straighten drift: {driftInWords(driftOf(reading.pulse))}</span>
        </label>
        <DriftCurve reading={reading} />
      </div>
    </>
  );
}

interface ReadingListProps {
  readonly open: OpenEcho;
  readonly readings: readonly Reading[];
}

function ReadingList({ open: { hints, chosen }, readings }: ReadingListProps) {
  const workspace = useWorkspace();
  const hinted = Object.values(hints).some((hint) => hint !== undefined);
  return (
    <fieldset className={styles.readings}>
      <legend className="small-label">Readings</legend>
      {hinted && (
        <button type="button" className={`btn btn-sm ${styles.found}`} onClick={() => workspace.readings.forgetHints()}>
          <ArrowCounterclockwise aria-hidden /> As it was found
        </button>
      )}
      {readings.map((one, index) => (
        <label key={index}>
          <input
            type="radio"
            name="reading"
            className="form-check-input"
            checked={index === chosen}
            onChange={() => workspace.readings.choose(index)}
          />
          <span>{inWords(one, readings.slice(0, index))}</span>
          <span className="numerals">{shareInWords(one.confidence)}</span>
        </label>
      ))}
    </fieldset>
  );
}

/** Tempo and length, put right by whoever played it. */
function KnownBetter({ bars, taps }: { readonly bars: number; readonly taps: number }) {
  const { readings } = useWorkspace();
  const small = (label: string, text: string, onClick: () => void, disabled = false) => (
    <button type="button" className="btn btn-sm" aria-label={label} title={label} disabled={disabled} onClick={onClick}>
      {text}
    </button>
  );
  return (
    <div className={styles.actions} role="group" aria-label="What you know better">
      {small("Half as fast", "½", () => readings.scaleTempo(0.5))}
      {small("Twice as fast", "×2", () => readings.scaleTempo(2))}
      {small("A bar less", "− bar", () => readings.stepBars(-1), bars <= 1)}
      {small("A bar more", "+ bar", () => readings.stepBars(1))}
      <button
        type="button"
        className="btn btn-sm"
        title="Tap along: the taps say the tempo"
        onPointerDown={(event) => readings.tap(event.timeStamp)}
        onKeyDown={(event) => {
          if (event.repeat || (event.key !== "Enter" && event.key !== " ")) return;
          event.preventDefault();
          readings.tap(event.timeStamp);
        }}
      >
        Tap along{taps > 0 ? ` ${taps}` : ""}
      </button>
    </div>
  );
}

const AS_FOUND = "as found";
const METERS = new Map(OFFERED_METERS.map((meter) => [`${meter.beats}/${meter.unit}`, meter]));

/** @param said the meter that the player said */
function MeterChoice({ said }: { readonly said: Meter | undefined }) {
  const { readings } = useWorkspace();
  return (
    <SettingSelect
      label="Meter of the playing"
      hideLabel
      value={said ? `${said.beats}/${said.unit}` : AS_FOUND}
      options={{
        [AS_FOUND]: "Meter as it was found",
        ...Object.fromEntries([...METERS.keys()].map((name) => [name, `It is in ${name}`])),
      }}
      onChange={(name) => readings.hint({ meter: METERS.get(name) })}
    />
  );
}

/** @param above the readings that are listed before it: one of the same tempo differs by where its bars begin */
function inWords(reading: Reading, above: readonly Reading[]): string {
  const { bpm, bars, meter, perQuarter } = reading;
  const felt = meter.groups ? ` (${meter.groups.join("+")})` : "";
  const feel = perQuarter % 3 === 0 ? ", triplets" : "";
  const length = `${bpm.toFixed(1)} BPM, ${bars} ${bars === 1 ? "bar" : "bars"} of ${meter.beats}/${meter.unit}${felt}${feel}`;
  const alike = above.find((other) => isLike(reading, other));
  return alike ? `${length}, ${lineInWords(reading, alike)}` : length;
}

function lineInWords({ downbeat, meter, bpm }: Reading, other: Reading): string {
  const unitSeconds = 240 / meter.unit / bpm;
  const later = wrap((downbeat - other.downbeat) / unitSeconds, meter.beats);
  // To the nearest half: bars may begin between beats.
  const beat = (Math.round(2 * later) / 2) % meter.beats;
  return `where the 1 is at its ${beat + 1}`;
}

function shareInWords(share: number): string {
  return share < 0.005 ? "<1%" : `${Math.round(share * 100)}%`;
}

function driftInWords(drift: number): string {
  if (Math.abs(drift) < STEADY) return "steady";
  return `${(Math.abs(drift) * 100).toFixed(1)} % ${drift > 0 ? "faster" : "slower"}`;
}
