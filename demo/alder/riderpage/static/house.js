// The old house library of the page: callbacks. New code uses loadBoard, which gives a promise.
export function fetchBoard(stop, callback) {
  const request = new XMLHttpRequest();
  request.open("GET", "/board?" + encodeURIComponent(stop));
  request.onload = () => callback(JSON.parse(request.responseText));
  request.send();
}

export function fetchFare(start, end, callback) {
  const request = new XMLHttpRequest();
  request.open("GET", "/fare?" + encodeURIComponent(start) + "&" + encodeURIComponent(end));
  request.onload = () => callback(JSON.parse(request.responseText));
  request.send();
}

export const fetchAlerts = (callback) => fetch("/alerts").then((r) => r.json()).then(callback);

export async function loadBoard(stop) {
  const answer = await fetch("/board?" + encodeURIComponent(stop));
  return answer.json();
}
