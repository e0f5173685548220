package identify

import (
	"fmt"

	"zorvel/core/fault"
)

// byBench turns a removed part by hand and counts its input.
func byBench() *technique {
	return &technique{
		method:  Bench,
		byHand:  true,
		turned:  true,
		resolve: func(r Reading, _ Stage, _ *Space) (Reading, error) { return r.resolveBench() },
		compile: func(c *compiled, sp *Space) {
			m := c.reading.Bench.OutputTurns
			if c.reading.Bench.Outputs == OneHeld {
				m /= 2
			}
			c.compileTurns(sp, c.reading.Bench.Shaft, m, sigmaWheel)
		},
		origin: func(c *compiled) []string {
			b := c.reading.Bench
			half := ""
			if b.Outputs == OneHeld {
				half = " ÷ 2 (the other output was held)"
			}
			return append(b.Shaft.origin(), fmt.Sprintf("ratio = input turns ÷ output turns = %s ÷ (%s%s) = %s, %s",
				decimal(b.Shaft.reckoned(), 3), plain(b.OutputTurns), half, decimal(c.center, 3), c.own.words()))
		},
		summary: func(r Reading) string {
			if r.Bench == nil {
				return "Turned on the bench"
			}
			how := ""
			switch r.Bench.Outputs {
			case OneHeld:
				how = ", other output held"
			case JoinedOutputs:
				how = ", outputs joined"
			}
			return fmt.Sprintf("Output %s%s; input %s", turnsWords(r.Bench.OutputTurns), how, r.Bench.Shaft.short())
		},
		says: map[Cause]string{
			CauseMisread: "the rest of the turn was read as the ratio that was expected, or the output crept",
		},
		again: func(k Kind) string { return "Count again: " + k.output() + " 4 turns, " + unseen },
		options: func(p *planner, by *technique, add func(Option, outcome)) {
			if !p.atAxle() || p.sit.Removed {
				p.turnOptions(by, sigmaWheel, add)
			}
		},
		minutes: turnedMinutes,
	}
}

func (r Reading) resolveBench() (Reading, error) {
	if r.Bench == nil {
		return r, fault.New("bench", "enter the output turns and the input turns")
	}
	b := *r.Bench
	if !(b.OutputTurns >= minOutputTurns && b.OutputTurns <= maxOutputTurns) {
		return r, fault.New("bench/output_turns",
			"turn the output at least once, %d times at most, and enter its turns, for example 1", maxOutputTurns)
	}
	switch b.Outputs {
	case "":
		b.Outputs = SingleOutput
	case SingleOutput, JoinedOutputs, OneHeld:
	default:
		return r, fault.New("bench/outputs", "the outputs are single, joined or one_held")
	}
	shaft, err := b.Shaft.resolve("bench/shaft")
	if err != nil {
		return r, err
	}
	b.Shaft = shaft
	r.Bench = &b
	return r, nil
}
