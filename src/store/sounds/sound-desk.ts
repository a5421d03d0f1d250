import type { Beat, KitPart, Lane, Pad, PadLayer } from "@/core/beat/beat";
import { findPart, knownPart } from "@/core/beat/edit";
import { padsOf } from "@/core/beat/lanes";
import {
  drumFor,
  giveKitBack,
  kitOf,
  setKit,
  setOwnKit,
  namePad,
  setPadSound,
  type OwnKit,
  type PadSoundChange,
} from "@/core/beat/edits/own-kit";
import { samplesIn, samplesOfPads } from "@/core/beat/samples/pad-samples";
import { CoreError } from "@/core/core-error";
import { writeKitFile } from "@/core/formats/kit-file";
import { MAX_FILE_BYTES, MAX_SAMPLE_BYTES } from "@/core/limits";
import { KIT_IDS, KITS, type KitId } from "@/core/instruments";
import type { OwnSample } from "@/core/sound/kits/own-sample";
import { hardestStroke } from "@/core/sound/signal/sound";
import { loudestMoment, USUAL_LUFS } from "@/core/sound/loudness/sample-level";
import { drumSound } from "@/core/sound/kits/sound-sets";
import type { BeatDocument } from "../document/beat-document";
import type { Playback } from "../engine/playback";
import type { SoundLoader } from "../engine/sound-loader";
import type { Repository } from "../persistence/repository";
import { Controller, type WorkspaceStore } from "../state/controller";
import type { OpenedWorkspace } from "../workspace/open-workspace";
import type { Decoder } from "./decode-audio";
import { importSample, layersOf } from "./sample-import";
import { readFileApart } from "@/workers/file-client";
import { refuseOthers } from "../refuse-others";
import { wordsOf } from "../words-of";
import { plainName } from "@/core/beat/plain-name";

/** Longer names of files are cut: a pad has no room for more. */
const PAD_NAME_LENGTH = 24;
const NOT_TAKEN = "The browser’s store does not take it; nothing was kept.";

export interface SoundDeskDeps {
  readonly document: BeatDocument;
  readonly playback: Pick<Playback, "send">;
  readonly sounds: SoundLoader;
  readonly repository: Repository;
  /** The browser's own where nothing is said. */
  readonly decoder?: Decoder;
}

/** The desk of an open beat. */
export function deskOf({ workspace, repository }: Pick<OpenedWorkspace, "workspace" | "repository">): SoundDesk {
  const { store, document, playback, sounds } = workspace;
  return new SoundDesk(store, { document, playback, sounds, repository });
}

/** What the open kit's pads strike: kits and single sounds that are gone through while it plays, samples, kits of one's own. */
export class SoundDesk extends Controller {
  /** The part as it was before the newest gesture. */
  private before: { readonly gesture: string; readonly part: KitPart } | undefined;

  constructor(
    store: WorkspaceStore,
    private readonly deps: SoundDeskDeps,
  ) {
    super(store);
  }

  /** All kits are there before somebody goes through them. @returns when they are */
  async open(): Promise<void> {
    const prepared = this.deps.sounds.prepare(KIT_IDS);
    await this.listKits();
    await this.measure();
    await prepared;
  }

  // ---- kits and single sounds

  /** @param gesture kits that are gone through one after the other are one step of undo */
  setKit(kitId: KitId, gesture?: string): void {
    this.edit(setKit(this.beat, this.partId, kitId), `Kit ${KITS[kitId].name}`, gesture);
  }

  async setOwnKit(kit: OwnKit, gesture?: string): Promise<void> {
    const { partId } = this;
    const bytes = samplesOfPads(kit.pads).length === 0 ? 0 : await this.bytesOf(setOwnKit(this.beat, partId, kit));
    if (bytes > MAX_SAMPLE_BYTES)
      return this.set({ notice: `With ${kit.name} the samples of this beat would have more than 50 MB.` });
    this.edit(setOwnKit(this.beat, partId, kit), `Kit ${kit.name}`, gesture);
  }

  /** @param what it is called in the history */
  setPad(padId: Lane, change: PadSoundChange, what: string, gesture?: string): void {
    const pad = this.pad(padId);
    if (pad) this.edit(setPadSound(this.beat, this.partId, padId, change), `${what} of ${pad.name}`, gesture);
  }

  /** The same of one of its layers. */
  setLayer(padId: Lane, at: number, change: Partial<PadLayer>, what: string, gesture?: string): void {
    const pad = this.pad(padId);
    const layer = pad?.layers[at];
    if (pad && layer) this.setPad(padId, { layers: pad.layers.with(at, { ...layer, ...change }) }, what, gesture);
  }

  /** The kit as it was before a gesture; what was played meanwhile stays. */
  giveBack(gesture: string): void {
    const { before } = this;
    if (before?.gesture !== gesture) return;
    this.before = undefined;
    const { part } = before;
    const last = this.state.history.past.at(-1);
    const undone = last?.mergeKey === gesture && typeof last.document !== "function" ? last.document : undefined;
    // Undo where that is all there is to it; else a step of its own, which leaves what was done in between.
    if (undone && knownPart(undone, part.id) === part) return this.deps.document.undo();
    if (knownPart(this.beat, part.id)) this.edit(giveKitBack(this.beat, part.id, part), "The kit as it was");
  }

  /** Lets a pad be heard, and nothing be written. */
  audition(padId: Lane): void {
    this.deps.playback.send({ type: "hit", partId: this.partId, lane: padId, velocity: 110, cutSeconds: 0 });
  }

  // ---- samples

  /** Puts audio files onto a pad, one after the other onto those behind it; one that is no sound is refused by name. */
  async bringIn(files: readonly File[], padId: Lane): Promise<void> {
    // Where another tab has the beat, that is said.
    if (!this.deps.document.admits(this.beat)) return;
    const { partId } = this;
    const pads = padsOf(findPart(this.beat, partId));
    const first = pads.findIndex(({ id }) => id === padId);
    const said: string[] = [];
    const gesture = `samples ${Date.now()}`;
    for (const [index, file] of files.entries()) {
      const pad = pads[first + index];
      said.push(pad ? await this.bringOne(file, partId, pad, gesture) : `${file.name}: there is no pad left for it.`);
    }
    await this.measure();
    this.deps.sounds.samplesCame();
    this.set({ notice: said.filter(Boolean).join(" ") });
  }

  /** A sample of the beat, for who draws it. */
  async sample(id: string): Promise<OwnSample | undefined> {
    return (await this.deps.repository.samples.read([id]))[id];
  }

  /** How loud a pad's drum is, which its samples are to be. */
  targetLufs(pad: Pick<Pad, "note" | "layers">): number {
    const { bank } = this.deps.sounds;
    const sound = bank?.sounds[drumSound("deckhouse", drumFor(pad).drum)];
    return bank && sound ? loudestMoment(hardestStroke(sound), bank.sampleRate) : USUAL_LUFS;
  }

  // ---- kits of the player's own

  async keepKit(name: string): Promise<void> {
    // As it is now, whatever is tried while the store answers.
    const { part } = this;
    const named = plainName(name) || `${part.name} of ${this.beat.name}`.slice(0, 120);
    // The one that is played is kept anew; no other one is lost.
    const wanted = named === part.kitName ? named : await this.freeName(named);
    const kept = await this.deps.repository.writeKit(kitOf(part, wanted));
    await this.listKits();
    this.set({ notice: kept ? `Saved as “${wanted}”.` : NOT_TAKEN });
  }

  async renameKit(kit: OwnKit, name: string): Promise<void> {
    const wanted = plainName(name);
    if (!wanted || wanted === kit.name) return;
    if (this.state.ownKits.some((one) => one.name === wanted))
      return this.set({ notice: `There is a kit “${wanted}” already.` });
    if (await this.deps.repository.writeKit({ ...kit, name: wanted })) await this.deps.repository.removeKit(kit.name);
    else this.set({ notice: NOT_TAKEN });
    await this.listKits();
  }

  async removeKit(kit: OwnKit): Promise<void> {
    const putSamplesBack = await this.deps.repository.removeKit(kit.name);
    await this.listKits();
    this.set({ removedKit: { kit, putSamplesBack } });
  }

  /** The kit that was deleted last is there again. */
  async bringKitBack(): Promise<void> {
    const { removedKit } = this.state;
    await removedKit?.putSamplesBack();
    if (removedKit) await this.deps.repository.writeKit(removedKit.kit);
    this.set({ removedKit: undefined });
    await this.listKits();
  }

  /** A kit as a file. */
  async kitFile(kit: OwnKit): Promise<string | Uint8Array<ArrayBuffer>> {
    return writeKitFile({ kit, samples: await this.deps.repository.samples.files(samplesOfPads(kit.pads)) });
  }

  async takeKitFile(file: File): Promise<void> {
    try {
      const { kit, samples } = await readKit(file);
      const name = await this.freeName(kit.name);
      const { repository } = this.deps;
      const taken = (await repository.samples.put(samples)) && (await repository.writeKit({ ...kit, name }));
      this.set({ notice: taken ? `“${name}” is among your kits.` : NOT_TAKEN });
    } catch (error) {
      this.set({ notice: `${file.name}: ${wordsOf(error)}` });
    }
    await this.listKits();
  }

  private edit(beat: Beat, label: string, gesture?: string): void {
    if (gesture && gesture !== this.before?.gesture) this.before = { gesture, part: this.part };
    this.deps.document.edit(beat, label, gesture);
  }

  private async bringOne(file: File, partId: number, pad: Pad, gesture: string): Promise<string> {
    const { document, repository, decoder } = this.deps;
    try {
      const { source, leftOut } = await importSample(file, this.beat, this.targetLufs(pad), repository, decoder);
      const sounding = setPadSound(this.beat, partId, pad.id, layersOf(source));
      const name = plainName(file.name.replace(/\.[^.]*$/, "")).slice(0, PAD_NAME_LENGTH) || pad.name;
      // Why it was refused must not be written over.
      if (!document.edit(namePad(sounding, partId, pad.id, name), `Samples`, gesture)) return this.state.notice;
      return leftOut.length > 0 ? `${file.name}: ${leftOut.join("; ")}.` : "";
    } catch (error) {
      return `${file.name}: ${wordsOf(error)} ${pad.name} keeps its sound.`;
    }
  }

  /** @example "Quay 2" where there is a "Quay" */
  private async freeName(name: string): Promise<string> {
    const taken = new Set((await this.deps.repository.readKits()).map((kit) => kit.name));
    if (!taken.has(name)) return name;
    for (let number = 2; ; number++)
      if (!taken.has(`${name.slice(0, 110)} ${number}`)) return `${name.slice(0, 110)} ${number}`;
  }

  private async listKits(): Promise<void> {
    this.set({ ownKits: await this.deps.repository.readKits() });
  }

  private async measure(): Promise<void> {
    this.set({ sampleBytes: await this.bytesOf(this.beat) });
  }

  private async bytesOf(beat: Beat): Promise<number> {
    const files = await this.deps.repository.samples.files(samplesIn(beat));
    return Object.values(files).reduce((sum, { length }) => sum + length, 0);
  }

  private pad(padId: Lane): Pad | undefined {
    return padsOf(findPart(this.beat, this.partId)).find(({ id }) => id === padId);
  }

  private get part(): KitPart {
    return findPart(this.beat, this.partId) as KitPart;
  }

  private get partId(): number {
    return this.state.patternRef.partId;
  }
}

/** @throws CoreError with what is wrong with it, and where; or where it belongs, if that is not here */
async function readKit(file: File) {
  const most = MAX_FILE_BYTES + MAX_SAMPLE_BYTES;
  if (file.size > most)
    throw new CoreError("too-large", `This file is larger than ${most / 2 ** 20} MB, the most that is read.`);
  const bytes = new Uint8Array(await file.arrayBuffer());
  refuseOthers(bytes, ["kit"], "bad-kit");
  return readFileApart(bytes, (api) => api.kit(bytes));
}
