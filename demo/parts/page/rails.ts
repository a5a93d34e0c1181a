import type { Row } from "./board";

export function fetchBoard(stop: string, done: (rows: Row[]) => void): void {
  fetch(`/boards/${stop}`).then((answer) => answer.json()).then(done);
}

export function loadBoard(stop: string): Promise<Row[]> {
  return fetch(`/boards/${stop}`).then((answer) => answer.json());
}
