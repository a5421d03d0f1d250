import { startTicks, type Player } from "@/core/sound/player/player";
import { asTicks } from "@/core/time/ticks";
import type { StartOrder, ToEngine } from "./protocol";

/** Carries out an order of the page; the player must stand at the frame of its next block. */
export function handleMessage(player: Player, order: ToEngine): void {
  switch (order.type) {
    case "sounds":
      return player.addSounds(order.sounds);
    case "drop-sounds":
      return player.dropSounds(order.ids);
    case "lanes":
      return player.setLanes(order.partId, order.lanes);
    case "tables":
      return player.setTables(order.tables);
    case "lead":
      return player.setLead(order.partId);
    case "remove":
      return player.removePart(order.partId);
    case "mix":
      return player.mix(order.partId, order.mix);
    case "queue":
      return player.queueTable(order.table, order.segment, order.moment, order.lapOf);
    case "unqueue":
      return player.unqueue(order.segment);
    case "click":
      return player.setClick(order.click);
    case "start":
      return start(player, order.order);
    case "stop":
      return player.stop();
    case "measure":
      // It is the audio thread's own affair, not the player's.
      return;
    case "hit":
      return player.hit(order.partId, order.lane, order.velocity, order.cutSeconds);
    case "let-go":
      return player.letGo(order.partId, order.lane);
    case "choke":
      return player.choke(order.partId, order.lane);
    case "silence":
      return player.silence(order.partId, order.lanes);
    case "rate":
      return player.setRate(order.stepTicks);
    case "hold":
      return player.hold(order.partId, order.hold);
    case "release":
      return player.release(order.partId, order.lane);
    case "press":
      return player.press(order.partId, order.lane, order.velocity);
    default:
      return order satisfies never;
  }
}

function start(player: Player, { segment, countInBars, laps, downbeatFrame, leadOnly }: StartOrder): void {
  const struck = downbeatFrame !== undefined;
  player.start({
    segment,
    fromTicks: struck ? asTicks(0) : startTicks(leadOnly ? [player.playing] : player.allPlaying, countInBars),
    countIn: countInBars > 0,
    laps: laps || Infinity,
    ...(leadOnly && { leadOnly }),
    ...(struck && { frame: downbeatFrame }),
  });
}
