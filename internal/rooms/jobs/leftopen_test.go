package jobs

import (
	"strings"
	"testing"
	"time"

	"zorvel/internal/store"
)

// What a job leaves open: a verdict until a repair cured it, a re-gear until the
// speedometer was looked at; what was before the job is none of its business.
func TestLeftOpen(t *testing.T) {
	came := time.Date(2026, 5, 1, 9, 0, 0, 0, time.UTC)
	j := store.Job{ID: 1, At: came}
	later := func(h int) time.Time { return came.Add(time.Duration(h) * time.Hour) }
	verdict := store.Decision{ID: 7, Kind: "fault", Title: "Fault: a stub", At: later(1)}
	repair := func(cured string) store.Decision {
		return store.Decision{ID: 8, Kind: "repair", At: later(2), Question: []byte(`{"verdict":7,"cured":` + cured + `}`), Answer: []byte(`{"result":"right","cured":` + cured + `}`)}
	}
	regear := store.Decision{ID: 9, Kind: "regear", Title: "Tires changed", At: later(3)}
	for name, c := range map[string]struct {
		list []store.Decision
		want string
	}{
		"nothing":                         {nil, ""},
		"a verdict":                       {[]store.Decision{verdict}, "verdict_7"},
		"a verdict that a repair proved":  {[]store.Decision{repair("true"), verdict}, ""},
		"a repair that did not cure":      {[]store.Decision{repair("false"), verdict}, "verdict_7"},
		"a verdict of before":             {[]store.Decision{{ID: 7, Kind: "fault", At: later(-1)}}, ""},
		"a verdict from a document":       {[]store.Decision{{ID: 7, Kind: "fault", At: later(1), TakenIn: &store.TakenIn{}}}, ""},
		"a re-gear":                       {[]store.Decision{regear}, "calibration"},
		"a re-gear, and then checked":     {[]store.Decision{{Kind: "check", At: later(4)}, regear}, ""},
		"a re-gear, checked before it":    {[]store.Decision{regear, {Kind: "check", At: later(2)}}, "calibration"},
		"both":                            {[]store.Decision{regear, verdict}, "calibration verdict_7"},
		"a repair that can't be read":     {[]store.Decision{{Kind: "repair", At: later(2), Question: []byte(`[]`)}, verdict}, "verdict_7"},
		"a set-up, which says for itself": {[]store.Decision{{Kind: "setup", At: later(1)}}, ""},
	} {
		var got []string
		for _, o := range leftOpen(j, c.list) {
			got = append(got, o.Id)
		}
		if strings.Join(got, " ") != c.want {
			t.Errorf("%s: %v, want %q", name, got, c.want)
		}
	}
}

// A meter is judged with all that were read before it, wherever in time it lies.
func TestMeterIsJudged(t *testing.T) {
	at := time.Date(2026, 5, 1, 9, 0, 0, 0, time.UTC)
	read := func(days int, hours float64, change string) store.Work {
		return store.Work{Kind: store.WorkMeter, Hours: &hours, Meter: change, DoneAt: at.AddDate(0, 0, days)}
	}
	before := []store.Work{read(0, 100, ""), read(10, 150, ""), {Kind: store.WorkService, What: "gear oil", DoneAt: at}}
	for name, c := range map[string]struct {
		w  store.Work
		ok bool
	}{
		"more":                     {read(20, 160, ""), true},
		"the same":                 {read(20, 150, ""), true},
		"less":                     {read(20, 140, ""), false},
		"less, replaced":           {read(20, 3, "replaced"), true},
		"less, rolled over":        {read(20, 3, "rolled_over"), true},
		"more, rolled over":        {read(20, 160, "rolled_over"), false},
		"between, later entered":   {read(5, 120, ""), true},
		"too much for between":     {read(5, 170, ""), false},
		"before the first":         {read(-5, 90, ""), true},
		"more before the first":    {read(-5, 110, ""), false},
		"below nothing":            {read(20, -1, ""), false},
		"a change nobody knows of": {read(20, 160, "painted"), false},
	} {
		if err := judgeMeter(before, c.w); (err == nil) != c.ok {
			t.Errorf("%s: %v", name, err)
		}
	}
}
