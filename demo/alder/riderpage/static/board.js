// The board: next trams at a stop.
import { fetchBoard, fetchAlerts } from "./house.js";

const ROWS = 6;

export function drawBoard(stop, element) {
  fetchBoard(stop, (rows) => {
    element.replaceChildren();
    for (const row of rows.slice(0, ROWS)) {
      const line = document.createElement("li");
      line.textContent = `${row.line}  ${row.minutes} min`; // two blanks, the font is not even
      element.append(line);
    }
  });
}

export function watchBoard(stop, element, every = 30) {
  drawBoard(stop, element);
  return setInterval(() => drawBoard(stop, element), every * 1000);
}

export function prefetch(stops) {
  for (const stop of stops) {
    fetchBoard(stop, /* nothing to draw yet */ () => {});
  }
}
