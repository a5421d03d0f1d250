"""Reads MIDI files with mido, a reader that is not ours, and prints what it finds as JSON, a file a line."""
import json
import sys

import mido

for path in sys.argv[1:]:
    try:
        song = mido.MidiFile(path)
        notes, tempos, meters, ends = [], [], [], []
        lengths, programs, controllers = [], [], []
        for index, track in enumerate(song.tracks):
            tick = 0
            sounding = {}
            for message in track:
                tick += message.time
                if message.type == "note_on" and message.velocity > 0:
                    notes.append([index, tick, message.channel, message.note, message.velocity])
                    sounding.setdefault((message.channel, message.note), []).append([tick, message.velocity])
                elif message.type in ("note_off", "note_on"):
                    waiting = sounding.get((message.channel, message.note))
                    if waiting:
                        start, velocity = waiting.pop(0)
                        lengths.append([index, start, message.channel, message.note, velocity, tick - start])
                elif message.type == "program_change":
                    programs.append([tick, message.channel, message.program])
                elif message.type == "control_change":
                    controllers.append([tick, message.channel, message.control, message.value])
                elif message.type == "set_tempo":
                    tempos.append([tick, message.tempo])
                elif message.type == "time_signature":
                    meters.append([tick, message.numerator, message.denominator])
            ends.append([track[-1].type if track else "", tick])
        notes.sort(key=lambda note: (note[1], note[3]))
        # The length of a whole song takes mido longer than all the rest.
        seconds = song.length if len(notes) < 2000 else None
        print(json.dumps({"type": song.type, "ppq": song.ticks_per_beat, "notes": notes, "tempos": tempos,
                          "meters": meters, "ends": ends, "lengths": lengths, "programs": programs,
                          "controllers": controllers, "seconds": seconds}))
    except Exception as error:  # noqa: BLE001 - whatever a strict reader raises is a refusal
        print(json.dumps({"refused": str(error) or type(error).__name__}))
