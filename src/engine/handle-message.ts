import { startTicks, type Player } from "@/core/sound/player";
import type { Ticks } from "@/core/time/ticks";
import type { StartOrder, ToEngine } from "./protocol";

/** Carries out an order of the page; the player must stand at the frame of its next block. */
export function handleMessage(player: Player, order: ToEngine): void {
  switch (order.type) {
    case "kit":
      return player.setKit(order.kit);
    case "drum":
      return player.setDrum(order.drum, order.samples);
    case "table":
      return player.setTable(order.table);
    case "queue":
      return player.queueTable(order.table, order.run, order.moment);
    case "unqueue":
      return player.unqueue(order.run);
    case "click":
      return player.setClick(order.click);
    case "start":
      return start(player, order.order);
    case "stop":
      return player.stop();
    case "hit":
      return player.hit(order.drum, order.velocity, order.cutSeconds);
    case "choke":
      return player.choke(order.drum);
    case "silence":
      return player.silence(order.pads);
    case "rate":
      return player.repeater.setRate(order.stepTicks);
    case "hold":
      return player.hold(order.hold);
    case "release":
      return player.repeater.release(order.pad);
    case "press":
      return player.repeater.press(order.pad, order.velocity);
    default:
      return order satisfies never;
  }
}

function start(player: Player, { run, countInBars, laps, downbeatFrame }: StartOrder): void {
  const struck = downbeatFrame !== undefined;
  player.start({
    run,
    fromTicks: struck ? (0 as Ticks) : startTicks(player.playing, countInBars),
    countIn: countInBars > 0,
    laps: laps || Infinity,
    ...(struck && { frame: downbeatFrame }),
  });
}
