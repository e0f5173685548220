package regear

import (
	"math"

	"zorvel/core/exact"
	"zorvel/core/tire"
)

// The rule of thumb gives a ratio by tire diameter. It is filled from the rpm
// that suits a common engine at 100 km/h in a gear of 1, which the shop then
// edits to its own taste.
const (
	RuleKMH     = 100
	RuleHighway = 2300
	RuleMixed   = 2650
	RuleTrail   = 3000
)

// DefaultRule is the table as it ships: classes of diameter every 50 mm.
func DefaultRule() []RuleRow {
	var out []RuleRow
	for mm := 600; mm <= 1050; mm += 50 {
		// For the middle of the class.
		rolling := (float64(mm) + 25) * tire.RadialFactor / 1000
		at := func(rpm float64) exact.Figure {
			r := rpm * rolling * 60 / (RuleKMH * 1000)
			return exact.Figure{Number: exact.New(int64(math.Round(r*100)), 100)}
		}
		out = append(out, RuleRow{FromMM: exact.Figure{Number: exact.Int(int64(mm))}, Highway: at(RuleHighway), Mixed: at(RuleMixed), Trail: at(RuleTrail)})
	}
	return out
}

// rule looks a diameter up: the last row that begins at or below it.
func rule(rows []RuleRow, mm exact.Number, use string) (exact.Number, exact.Number, bool) {
	var best *RuleRow
	for i := range rows {
		r := &rows[i]
		if r.FromMM.Cmp(mm) <= 0 && (best == nil || r.FromMM.Cmp(best.FromMM.Number) > 0) {
			best = r
		}
	}
	if best == nil {
		return exact.Number{}, exact.Number{}, false
	}
	v := best.Mixed
	switch use {
	case Highway:
		v = best.Highway
	case Trail, Towing:
		v = best.Trail
	}
	return v.Number, best.FromMM.Number, v.Sign() > 0
}
