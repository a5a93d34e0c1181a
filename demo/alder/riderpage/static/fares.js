// What a ride costs.
import { fetchBoard, fetchFare } from "./house.js";

export function showFare(start, end, element) {
  fetchFare(start, end, function (fare) {
    element.textContent = fare == null ? "?" : fare.text;
  });
}

// A stop without trams has no fare either.
export function showFareIfServed(start, end, element) {
  fetchBoard(start, (rows) => {
    if (rows.length == 0) {
      element.textContent = "";
    } else {
      showFare(start, end, element);
    }
  })
}
