// Alerts at the top of the page.
import { fetchAlerts } from "./house.js";
import * as board from "./board.js";

const seen = new Set();

export function showAlerts(element) {
  fetchAlerts((alerts) => {
    for (const alert of alerts) {
      if (seen.has(alert.text)) continue
      seen.add(alert.text);
      const item = document.createElement("p");
      item.textContent = "Line " + alert.line + ": " + alert.text;
      element.append(item);
    }
  });
}

export function showNear(stops, element) {
  // fetchBoard(stop, callback) is called inside
  stops.forEach((stop) => board.drawBoard(stop, element));
}
