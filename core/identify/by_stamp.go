package identify

import "strconv"

// byStamp reads what is stamped on the ring's edge or the pinion.
func byStamp() *technique {
	return &technique{
		method:  Stamp,
		open:    true,
		written: true,
		resolve: resolveMark,
		compile: compileMark(shareMarkedCounts, rateStaleStamp),
		origin:  markOrigin,
		summary: func(r Reading) string { return "Stamped " + r.Text },
		says: map[Cause]string{
			CauseSwapped: "the stamp belongs to other gears, or was misread: wire-brush it and read again",
		},
		again: func(Kind) string { return "Wire-brush the stamp and read it again." },
		options: func(p *planner, by *technique, add func(Option, outcome)) {
			if !p.used(by) && !p.sit.NoStamp {
				add(Option{Method: Stamp, Minutes: by.minutes(p, Option{}), Do: p.openWords() + "wire-brush and read the stamp"},
					p.markOutcome(by, rateStaleStamp, false))
			}
		},
		minutes: func(p *planner, _ Option) float64 { return p.open() + MinutesStamp },
		draw: func(w *world, _ Option, r *Reading) bool {
			h := w.drawMarked(statedStaleStamp)
			r.Text = strconv.Itoa(int(h.teeth[0])) + "-" + strconv.Itoa(int(h.teeth[1]))
			return true
		},
	}
}
