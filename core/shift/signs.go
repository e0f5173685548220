package shift

import (
	"math"
	"math/rand/v2"
)

// Faults of a mechanism that Chances knows.
var Faults = []string{"shift_cable", "shift_seal", "interrupter", "cable_phase", "idle", "rounded"}

// Signs that a mechanism shows.
var Signs = []string{"stalls_reverse", "stalls_forward", "grinds", "pops", "not_in", "hard_out"}

const draws = 4000

// Chances says how often each sign is met with each fault (and with none, ""):
// mechanisms drawn around what is typical, with that one thing wrong, worked
// out. The same draws every time.
func Chances() map[string]map[string]float64 {
	out := map[string]map[string]float64{}
	for k, id := range append([]string{""}, Faults...) {
		r := rand.New(rand.NewPCG(uint64(k), 41))
		n := map[string]int{}
		for range draws {
			a, err := Work(drawn(r, id))
			if err != nil {
				continue
			}
			for i, sign := range Signs {
				if [...]bool{a.Out[0].Stalls, a.Out[1].Stalls, a.Grinds, a.Pops, a.NotIn, a.Out[0].Hard || a.Out[1].Hard}[i] {
					n[sign]++
				}
			}
		}
		out[id] = map[string]float64{}
		for _, sign := range Signs {
			// One more of each, so that nothing is impossible (Laplace).
			out[id][sign] = float64(n[sign]+1) / (draws + 2)
		}
	}
	return out
}

// drawn is a mechanism around what is typical, with one thing wrong.
func drawn(r *rand.Rand, id string) Mechanism {
	about := func(v, spread float64) float64 { return v * math.Exp(spread*r.NormFloat64()) }
	short, round := about(typicalShort, 0.4), about(typicalRound, 0.3)
	m := Mechanism{CableN: about(typicalCable, 0.2), SealN: about(typicalSeal, 0.25), IdleRPM: about(typicalIdle, 0.05),
		MoveS: about(typicalMove, 0.2), ShortMM: &short, RoundMM: &round}
	switch id {
	case "shift_cable":
		m.CableN = about(34, 0.35)
	case "shift_seal":
		m.SealN = about(38, 0.35)
	case "interrupter":
		m.Switch = "closed"
		if r.Float64() < 0.5 {
			m.Switch = "open"
		}
	case "cable_phase":
		short = about(2.8, 0.3)
	case "idle":
		m.IdleRPM = about(1150, 0.15)
	case "rounded":
		round = about(1.1, 0.3)
	}
	return m
}
