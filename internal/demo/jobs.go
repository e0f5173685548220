package demo

import (
	"context"
	"fmt"
	"time"

	"zorvel/api"
	"zorvel/core/service"
	"zorvel/internal/jobfacts"
	"zorvel/internal/store"
)

// visit is a job of the demo.
type visit struct {
	unit, complaint, customer, by string
	daysAgo                       int
	lines                         []entry
	closed                        string // handed over with; empty: it is open
}

// entry is one line of a job, so many days after it came in.
type entry struct {
	after                  int
	kind, what, part, text string
	minutes, km, hours     float64
}

var visits = []visit{
	{"Plow truck Bell", "A bang in the ditch by the mill, and no drive since", "Road board", ivar, 31, []entry{
		{0, store.WorkMeter, "", "", "", 0, 61240, 0},
		{0, store.WorkFinding, "", "rear_right", "Axle shaft sheared at the splines, clean face all over", 0, 0, 0},
		{0, store.WorkState, store.JobOrdered, "", "", 0, 0, 0},
		{1, store.WorkDone, "", "rear_right", "Axle shaft and seal replaced, oil filled to the level", 140, 0, 0},
		{1, store.WorkService, service.GearOil, "rear", "2.1 l, as it was drained", 0, 0, 0},
	}, "Do not spin one wheel and let it grip: that shears the smallest part."},
	{"Skiff Little Auk", "Stalls when I take it out of reverse", "Harbor watch", ivar, 3, []entry{
		{0, store.WorkMeter, "", "", "", 0, 0, 489},
		{0, store.WorkFinding, "", "gearcase", "Lever stiff with the cable off at the engine", 25, 0, 0},
		{1, store.WorkState, store.JobDecided, "", "", 0, 0, 0},
		{1, store.WorkNote, "", "", "Cable and shift shaft seal go in together", 0, 0, 0},
	}, ""},
	{"Forwarder Birk", "Whines since the gears were changed elsewhere", "Birk forest company", oda, 4, []entry{
		{0, store.WorkState, store.JobOnStands, "", "", 0, 0, 0},
		{0, store.WorkMeter, "", "", "", 0, 0, 7312},
		{1, store.WorkDone, "", "rear", "Cover off, pattern taken", 55, 0, 0},
		{2, store.WorkTaken, ivar, "", "", 0, 0, 0},
	}, ""},
	{"Rescue van Tern 2", "Hums from sixty on", "Tern rescue", oda, 1, []entry{
		{0, store.WorkMeter, "", "", "", 0, 142300, 0},
	}, ""},
}

// past is what was read and served before, without a job.
var past = []struct {
	unit    string
	daysAgo int
	entry
}{
	{"Skiff Little Auk", 430, entry{0, store.WorkMeter, "", "", "", 0, 0, 388}},
	{"Skiff Little Auk", 430, entry{0, store.WorkService, service.GearOil, "gearcase", "", 0, 0, 0}},
	{"Skiff Little Auk", 120, entry{0, store.WorkService, service.Impeller, "gearcase", "", 0, 0, 0}},
	{"Skiff Little Auk", 120, entry{0, store.WorkMeter, "", "", "", 0, 0, 455}},
	{"Rescue van Tern 2", 400, entry{0, store.WorkMeter, "", "", "", 0, 117800, 0}},
	{"Rescue van Tern 2", 400, entry{0, store.WorkService, service.Grease, "prop", "", 0, 0, 0}},
	{"Rescue van Tern 2", 200, entry{0, store.WorkService, service.GearOil, "rear", "", 0, 0, 0}},
	{"Plow truck Bell", 300, entry{0, store.WorkMeter, "", "", "", 0, 55100, 0}},
	{"Plow truck Bell", 300, entry{0, store.WorkService, service.Breather, "rear", "", 0, 0, 0}},
}

// jobs puts visits and services on record.
func jobs(ctx context.Context, st *store.Store, now time.Time) error {
	id := func(unit string) (int64, error) {
		list, _, err := st.Units(ctx, store.Asked{Name: unit})
		if err != nil || len(list) == 0 {
			return 0, fmt.Errorf("%s is not there: %w", unit, err)
		}
		return list[0].ID, nil
	}
	enter := func(unit, job int64, key, by string, at time.Time, l entry) error {
		w := store.Work{UnitID: unit, JobID: job, Key: key, Kind: l.kind, What: l.what, Part: l.part, Text: l.text, By: by, At: at, DoneAt: at}
		for _, x := range []struct {
			from float64
			to   **float64
		}{{l.minutes, &w.Minutes}, {l.km, &w.KM}, {l.hours, &w.Hours}} {
			if x.from > 0 {
				*x.to = &x.from
			}
		}
		return st.EnterWork(ctx, w, func([]store.Work) error { return nil })
	}
	for i, p := range past {
		unit, err := id(p.unit)
		if err != nil {
			return err
		}
		if err := enter(unit, 0, fmt.Sprint("demo-past-", i), oda, now.AddDate(0, 0, -p.daysAgo), p.entry); err != nil {
			return err
		}
	}
	for i, v := range visits {
		unit, err := id(v.unit)
		if err != nil {
			return err
		}
		at := now.AddDate(0, 0, -v.daysAgo)
		told, err := jobfacts.From(api.JobFacts{Customer: &v.customer})
		if err != nil {
			return err
		}
		job, err := st.OpenJob(ctx, store.Job{UnitID: unit, Complaint: v.complaint, Facts: told, Who: v.by, By: v.by,
			At: at}, fmt.Sprint("demo-job-", i), "")
		if err != nil {
			return err
		}
		for k, l := range v.lines {
			if err := enter(unit, job, fmt.Sprint("demo-job-", i, "-", k), v.by, at.AddDate(0, 0, l.after).Add(time.Duration(k)*12*time.Minute), l); err != nil {
				return err
			}
		}
		if v.closed != "" {
			rev, err := st.Revision(ctx, unit)
			if err != nil {
				return err
			}
			if err := st.CloseJob(ctx, job, rev, v.by, v.closed); err != nil {
				return err
			}
		}
	}
	return nil
}
