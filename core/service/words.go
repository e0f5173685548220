package service

// What the answers say. A change of wording is a change here and nowhere else.

import (
	"fmt"
	"time"

	"zorvel/core/say"
)

// interval is a rule in words: "every 100 h or 12 months".
func (r *Rule) interval() string {
	words := ""
	for _, x := range []struct {
		v    float64
		unit string
	}{{r.Hours, "h"}, {r.KM, "km"}, {r.Sessions, "sessions"}, {r.Months, "months"}} {
		if x.v == 0 {
			continue
		}
		if words != "" {
			words += " or "
		}
		words += say.Trim(x.v, 1) + " " + x.unit
	}
	if r.After != "" {
		return words + " after " + r.After
	}
	return "every " + words
}

// writeDown asks for a date that isn't known.
func writeDown(r *Rule) string {
	return fmt.Sprintf("%s; write down when it was done last", r.interval())
}

// neverRead says that a count is missing.
func neverRead(from *time.Time, r *Rule) string {
	return fmt.Sprintf("last %s; %s, and its meter was never read since", say.Day(*from), r.interval())
}

// atCount is due by a count.
func atCount(then, every float64, c int) string {
	return fmt.Sprintf("at %s %s", say.Trim(then+every, 0), counters[c].unit)
}

// aboutDay is the day on which the count is expected.
func (w *work) aboutDay(on time.Time, c int) string {
	return fmt.Sprintf(", about %s at %s %s a day", say.Day(on), say.Trim(w.rate[c], 1), counters[c].unit)
}
