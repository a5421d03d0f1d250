import type { KeptPass } from "@/core/beat/edits/kept-pass";
import { CoreError } from "@/core/core-error";
import { checkBeat } from "@/core/formats/beat-file";
import { checkGroove } from "@/core/formats/groove-file";
import { checkKit } from "@/core/formats/kit-file";
import { readSampleWav } from "@/core/formats/wav/sample-wav";
import {
  checkEchoMark,
  checkStep,
  readKeptPasses,
  readLookbackHits,
  readProfile,
  readSettings,
} from "@/core/formats/stored-records";
import type { LookbackHit } from "@/core/recover/echo";
import { newProfile, type DeviceProfile } from "@/inputs/device-profile";
import { DEFAULT_SETTINGS, type Settings } from "../../settings";
import type { BeatRecord, DamagedRecord, EchoMarkRecord, KeptStateRecord, SampleRecord, StepRecord } from "./rows";

export { newBeatCheck } from "@/core/formats/beat-check";
export { restoreBeat } from "@/core/formats/stored-records";
export { readSampleWav } from "@/core/formats/wav/sample-wav";
export { isHistoryChanges } from "./step-log";

/** A row's members by name; none of what is no row. */
function membersOf(row: unknown): Readonly<Record<string, unknown>> {
  return typeof row === "object" && row !== null ? (row as Readonly<Record<string, unknown>>) : {};
}

function refuse(problem: string): never {
  throw new CoreError("bad-record", problem);
}

/** @throws CoreError with what is wrong and where, as all here do */
export function checkBeatRow(row: unknown): BeatRecord {
  const { id, changedAt, beat: stored, step } = membersOf(row);
  const beat = checkBeat(stored);
  if (beat.id !== id) refuse("it is kept under another beat's name");
  if (!Number.isFinite(changedAt)) refuse("it does not say when it was changed");
  // What was kept of the history is of the beat as it was written.
  const known = Number.isInteger(step) && beat === stored;
  return { id: beat.id, changedAt: changedAt as number, beat, ...(known && { step: step as number }) };
}

/** The passes of a journal's row. */
export function readJournalRow(row: unknown): readonly KeptPass[] {
  const { passes } = membersOf(row);
  return readKeptPasses(String(passes));
}

/** The strokes of a row of the lookback. */
export function readLookbackRow(row: unknown): readonly LookbackHit[] {
  return readLookbackHits(String(membersOf(row).hits));
}

export function checkKeptStateRow(row: unknown): KeptStateRecord {
  const { id, beatId, name, atMs, beat: stored } = membersOf(row);
  const beat = checkBeat(stored);
  if (!Number.isInteger(id) || typeof name !== "string" || !Number.isFinite(atMs))
    refuse("it does not say which, of when and how it is called");
  if (beat.id !== beatId) refuse("it is kept under another beat's name");
  return { id: id as number, beatId: beat.id, name: name as string, atMs: atMs as number, beat };
}

export const checkGrooveRow = checkGroove;
export const checkKitRow = checkKit;

export function checkStepRow(row: unknown): StepRecord {
  return checkStep(row) as StepRecord;
}

export function checkEchoMarkRow(row: unknown): EchoMarkRecord {
  return checkEchoMark(row) as EchoMarkRecord;
}

export function checkSampleRow(row: unknown): SampleRecord {
  const { id, wav, addedAt } = membersOf(row);
  if (typeof id !== "string" || !(wav instanceof Uint8Array) || !Number.isFinite(addedAt))
    refuse("it is no sample with its name and time");
  readSampleWav(wav as Uint8Array);
  return row as SampleRecord;
}

/** Reads a row that was put aside; never throws. */
export function readDamagedRow(row: unknown): DamagedRecord {
  const { id, table, problem, record } = membersOf(row);
  return {
    id: id as number,
    table: table === "lookback" || table === "backup" ? table : "journal",
    problem: typeof problem === "string" ? problem : "nobody wrote down what is wrong with it",
    record: record ?? row,
  };
}

/** Settings; members that are missing or can't be read have their standard. */
export function readSettingsRow(row: unknown): Settings {
  return { ...DEFAULT_SETTINGS, ...readSettings(membersOf(row).settings).members };
}

/** A profile, in the same way; without the device's name, by which it is found, it is nobody's. */
export function readProfileRow(row: unknown): DeviceProfile {
  const { members, problems } = readProfile(row);
  const { device } = members;
  if (typeof device !== "string") return refuse(problems[0] ?? "it is no device's");
  return { ...newProfile(device), ...members };
}
