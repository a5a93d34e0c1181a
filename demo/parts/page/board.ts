// The board on the rider page: what comes next, and when.
import { fetchBoard } from "@alder/rails";
import { format } from "@alder/clock";

import type { Row } from "./row";

export function show(stop: string, draw: (rows: Row[]) => void): void {
  // the old server answers by callback
  fetchBoard(stop, (rows: Row[]) => {
    draw(rows.filter((row) => row.minutes >= 0));
  });
}

export const label = (row: Row): string =>
  row.minutes === 0 ? "now" : format(row.minutes, "min"); // never "0 min"
