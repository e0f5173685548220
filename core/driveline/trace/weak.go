package trace

import (
	"fmt"
	"math"

	"zorvel/core/say"
)

// weak finds the part nearest to its rating at the engine's greatest torque.
func (r *telling) weak(t *Trace) {
	nm := r.Machine.Doc.EngineNM()
	if nm == 0 || r.Machine.Input != r.Machine.Root {
		return
	}
	for i := range r.Machine.Doc.Parts {
		p := &r.Machine.Doc.Parts[i]
		in := r.Machine.Outs[p.From]
		if p.RatedNM == 0 || in == "" {
			continue
		}
		x, ok := r.TorqueKnown(r.Net.Shaft(in))
		if !ok {
			continue
		}
		at := math.Abs(x.Float()) * nm
		if w := at / p.RatedNM; t.WeakLink == nil || w > t.WeakLink.Used {
			t.WeakLink = &WeakLink{Part: p.ID, Torque: at, Rated: p.RatedNM, Used: w,
				Formula: fmt.Sprintf("engine %s N·m × %s = %s N·m at its input; rated for %s N·m", say.Trim(nm, 0),
					x.Abs().Short(3), say.Trim(at, 0), say.Trim(p.RatedNM, 0))}
		}
	}
	r.weakStub(t, nm)
}

// weakStub looks at the stubs and joints of the axles, which have ratings of
// their own.
func (r *telling) weakStub(t *Trace, nm float64) {
	for _, stub := range r.Machine.Doc.StubRatings() {
		x, ok := r.TorqueKnown(r.Net.Shaft(stub.Shaft))
		if !ok || stub.NM == 0 {
			continue
		}
		at := math.Abs(x.Float()) * nm
		if w := at / stub.NM; t.WeakLink == nil || w > t.WeakLink.Used {
			t.WeakLink = &WeakLink{Part: stub.Part.ID, Torque: at, Rated: stub.NM, Used: w,
				Formula: fmt.Sprintf("engine %s N·m × %s = %s N·m at its %s stub; a stub is rated for %s N·m",
					say.Trim(nm, 0), x.Abs().Short(3), say.Trim(at, 0), stub.Side, say.Trim(stub.NM, 0))}
		}
	}
}
