export interface Row {
  line: number;
  minutes: number;
}
