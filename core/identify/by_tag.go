package identify

import "strconv"

// byTag reads a tag on a cover bolt: made with the gears, and left on when they
// were swapped.
func byTag() *technique {
	return &technique{
		method:  Tag,
		written: true,
		resolve: resolveMark,
		compile: compileMark(shareTaggedCounts, rateStaleTag),
		origin:  markOrigin,
		summary: func(r Reading) string { return "Tag says " + r.Text },
		options: func(p *planner, by *technique, add func(Option, outcome)) {
			if p.hasTag() && !p.used(by) && !p.sit.NoTag {
				add(Option{Method: Tag, Minutes: MinutesTag, Do: "look for the tag and read it"}, p.markOutcome(by,
					rateStaleTag, true))
			}
		},
		minutes: func(*planner, Option) float64 { return MinutesTag },
		draw: func(w *world, _ Option, r *Reading) bool {
			if !w.hasTag {
				return false
			}
			h := w.drawMarked(statedStaleTag)
			r.Text = h.exact().Label()
			if w.rng.Float64() > shareRounded {
				r.Text = cutLabel(h)
			}
			return true
		},
	}
}

// hasTag reports whether a tag is worth looking for: a tag tells the ratio of an
// axle or a transfer case, not that of one gear of a gearbox, and who has seen the
// gears has no use for it.
func (p *planner) hasTag() bool {
	return (p.atAxle() || p.a.sp.Stage.Kind == TransferCase) && !p.seen()
}

func cutLabel(h *hyp) string {
	num, den, _ := h.exact().Fraction()
	return strconv.FormatFloat(float64(num*100/den)/100, 'f', 2, 64)
}
