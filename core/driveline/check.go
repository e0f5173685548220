package driveline

import (
	"strings"

	"zorvel/core/fault"
)

// check looks at one part by itself and fills in what is usual where a word
// was left out.
func (p *Part) check(at string, errs *fault.Errors) {
	if p.RatedNM < 0 || p.RatedNM > 1e6 {
		errs.Add(at+"rated_nm", "from 0 to 1,000,000 N·m")
	}
	p.Family = strings.TrimSpace(p.Family)
	if len([]rune(p.Family)) > 60 {
		errs.Add(at+"family", "at most 60 characters")
	}
	if p.Actuation != "" {
		oneOf(errs, at+"actuation", &p.Actuation, "lever", "cable", "motor", "air", "vacuum", "hydraulic")
	}
	oneOf(errs, at+"mounting", &p.Mounting, "upright", "turned_over", "end_for_end")
	known := false
	for _, k := range kinds {
		known = known || k.name == p.Kind
		if k.name != p.Kind && k.filled(p) {
			errs.Add(at+k.name, "does not belong to a part of the kind %q", p.Kind)
		}
	}
	if !known {
		errs.Add(at+"kind", "%q is no kind of part; choose one of %v", p.Kind, PartKinds())
		return
	}
	for name, s := range p.Sources {
		k := s.Kind
		oneOf(errs, at+"sources/"+name+"/kind", &k, "unknown", "measured", "plate", "assumed", "conflict")
		if s.Probability < 0 || s.Probability > 1 {
			errs.Add(at+"sources/"+name+"/probability", "from 0 to 1")
		}
	}
	p.made().check(p, at+p.Kind+"/", errs)
}

func idlers(errs *fault.Errors, at string, n int) {
	if n < 0 || n > 9 {
		errs.Add(at+"idlers", "from 0 to 9")
	}
}
