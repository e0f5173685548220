package driveline

import (
	"fmt"
	"math"
	"strings"

	"zorvel/core/say"
)

// weak finds the part nearest to its rating at the engine's greatest torque.
func (r *result) weak(t *Trace) {
	nm := 0.0
	if e := r.m.parts[strings.TrimSuffix(r.m.root, ".crank")]; e != nil && e.Engine != nil && r.m.input == r.m.root {
		nm = e.Engine.TorqueNM
	}
	if nm == 0 {
		return
	}
	for i := range r.m.doc.Parts {
		p := &r.m.doc.Parts[i]
		in := r.m.outs[p.From]
		if p.RatedNM == 0 || in == "" {
			continue
		}
		x, ok := r.torqueKnown(r.c.Shaft(in))
		if !ok {
			continue
		}
		at := math.Abs(x.Float()) * nm
		if w := at / p.RatedNM; t.WeakLink == nil || w > t.WeakLink.Used {
			t.WeakLink = &WeakLink{Part: p.ID, Torque: at, Rated: p.RatedNM, Used: w,
				Formula: fmt.Sprintf("engine %s N·m × %s = %s N·m at its input; rated for %s N·m", say.Trim(nm, 0), x.Abs().Short(3), say.Trim(at, 0), say.Trim(p.RatedNM, 0))}
		}
	}
	r.weakStub(t, nm)
}

// weakStub looks at the stubs and joints of the axles, which have ratings of
// their own.
func (r *result) weakStub(t *Trace, nm float64) {
	for i := range r.m.doc.Parts {
		p := &r.m.doc.Parts[i]
		if p.Axle == nil || p.Axle.StubNM == 0 {
			continue
		}
		for _, side := range []string{"left", "right"} {
			x, ok := r.torqueKnown(r.c.Shaft(p.ID + "." + side))
			if !ok {
				continue
			}
			at := math.Abs(x.Float()) * nm
			if w := at / p.Axle.StubNM; t.WeakLink == nil || w > t.WeakLink.Used {
				t.WeakLink = &WeakLink{Part: p.ID, Torque: at, Rated: p.Axle.StubNM, Used: w,
					Formula: fmt.Sprintf("engine %s N·m × %s = %s N·m at its %s stub; a stub is rated for %s N·m", say.Trim(nm, 0), x.Abs().Short(3), say.Trim(at, 0), side, say.Trim(p.Axle.StubNM, 0))}
			}
		}
	}
}
