import type { DrumId } from "../../drums";

/**
 * General MIDI System Level 1 percussion key map (RP-003, from memory; names and numbers are checked against an
 * independent table in tests/reference), with the drum of ours that comes nearest.
 */
export const GM_PERCUSSION: Readonly<Record<number, { readonly name: string; readonly drum: DrumId }>> = {
  35: { name: "Acoustic Bass Drum", drum: "kick" },
  36: { name: "Bass Drum 1", drum: "kick" },
  37: { name: "Side Stick", drum: "sideStick" },
  38: { name: "Acoustic Snare", drum: "snare" },
  39: { name: "Hand Clap", drum: "clap" },
  40: { name: "Electric Snare", drum: "snare" },
  41: { name: "Low Floor Tom", drum: "lowTom" },
  42: { name: "Closed Hi-Hat", drum: "closedHat" },
  43: { name: "High Floor Tom", drum: "lowTom" },
  44: { name: "Pedal Hi-Hat", drum: "pedalHat" },
  45: { name: "Low Tom", drum: "lowTom" },
  46: { name: "Open Hi-Hat", drum: "openHat" },
  47: { name: "Low-Mid Tom", drum: "midTom" },
  48: { name: "Hi-Mid Tom", drum: "midTom" },
  49: { name: "Crash Cymbal 1", drum: "crash" },
  50: { name: "High Tom", drum: "highTom" },
  51: { name: "Ride Cymbal 1", drum: "ride" },
  52: { name: "Chinese Cymbal", drum: "crash" },
  53: { name: "Ride Bell", drum: "ride" },
  54: { name: "Tambourine", drum: "tambourine" },
  55: { name: "Splash Cymbal", drum: "crash" },
  56: { name: "Cowbell", drum: "cowbell" },
  57: { name: "Crash Cymbal 2", drum: "crash" },
  58: { name: "Vibraslap", drum: "shaker" },
  59: { name: "Ride Cymbal 2", drum: "ride" },
  60: { name: "Hi Bongo", drum: "conga" },
  61: { name: "Low Bongo", drum: "conga" },
  62: { name: "Mute Hi Conga", drum: "conga" },
  63: { name: "Open Hi Conga", drum: "conga" },
  64: { name: "Low Conga", drum: "conga" },
  65: { name: "High Timbale", drum: "highTom" },
  66: { name: "Low Timbale", drum: "midTom" },
  67: { name: "High Agogo", drum: "cowbell" },
  68: { name: "Low Agogo", drum: "cowbell" },
  69: { name: "Cabasa", drum: "shaker" },
  70: { name: "Maracas", drum: "shaker" },
  71: { name: "Short Whistle", drum: "sideStick" },
  72: { name: "Long Whistle", drum: "sideStick" },
  73: { name: "Short Guiro", drum: "shaker" },
  74: { name: "Long Guiro", drum: "shaker" },
  75: { name: "Claves", drum: "sideStick" },
  76: { name: "Hi Wood Block", drum: "sideStick" },
  77: { name: "Low Wood Block", drum: "sideStick" },
  78: { name: "Mute Cuica", drum: "conga" },
  79: { name: "Open Cuica", drum: "conga" },
  80: { name: "Mute Triangle", drum: "tambourine" },
  81: { name: "Open Triangle", drum: "ride" },
};

/** What to play for a note outside the table. */
export const FALLBACK_DRUM: DrumId = "sideStick";
