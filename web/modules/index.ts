// What computes or decides in the browser, for the tests: bundled into one script and
// tried with tables of cases in e2e/modules_test.go. Not part of the program.

export { blocking } from "../src/api/blocking";
export { Refused } from "../src/api/client";
export * as queue from "../src/app/queue";
export * as changegear from "../src/benches/changegear/model";
export * as driveline from "../src/benches/driveline/model";
export * as gearcase from "../src/benches/gearcase/model";
export * as identify from "../src/benches/identify/methods";
export * as draft from "../src/benches/identify/methods/draft";
export * as regear from "../src/benches/regear/model";
export * as setup from "../src/benches/setup/model";
export * as speedo from "../src/benches/speedo/model";
export * as tire from "../src/benches/tire/model";
export * as csv from "../src/format/csv";
export * as numbers from "../src/format/numbers";
export { jpegs } from "../src/live/film";
export { until } from "../src/live/recording";
export * as labels from "../src/machine/labels";
export * as parts from "../src/machine/parts";
export * as fields from "../src/machine/parts/fields";
export * as place from "../src/machine/place";
export * as spin from "../src/machine/spin";
