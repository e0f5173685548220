import type { Bench } from "./bench";
import { bench as cards } from "./cards/bench";
import { bench as changeGears } from "./changegear/bench";
import { bench as trace } from "./driveline/bench";
import { bench as findFault } from "./findfault/bench";
import { bench as freePlay } from "./freeplay/bench";
import { bench as gearcase } from "./gearcase/bench";
import { bench as gears } from "./gears/bench";
import { bench as identify } from "./identify/bench";
import { bench as listen } from "./listen/bench";
import { bench as marks } from "./marks/bench";
import { bench as practice } from "./practice/bench";
import { bench as propeller } from "./propeller/bench";
import { bench as regear } from "./regear/bench";
import { bench as service } from "./service/bench";
import { bench as setup } from "./setup/bench";
import { bench as speedo } from "./speedo/bench";

/** All benches, in the order of the trade. */
export const benches: Bench[] = [
  identify,
  trace,
  regear,
  speedo,
  findFault,
  listen,
  setup,
  freePlay,
  gearcase,
  propeller,
  changeGears,
  gears,
  marks,
  service,
  cards,
  practice,
];
