import { expose } from "comlink";
import { findReadings } from "@/core/recover/readings/readings";
import type { RecoverApi } from "./recover-api";

const api: RecoverApi = { findReadings };

expose(api);
