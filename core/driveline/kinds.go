package driveline

import "zorvel/core/fault"

// made is what a kind of part is made of and does. Each kind has a file of its
// own, part_<kind>.go, and a line in kinds.
type made interface {
	// check refuses what can't be, at the path at, and fills in what is usual
	// where a word was left out.
	check(p *Part, at string, errs *fault.Errors)
	// ports are its outputs; one without a name is "".
	ports() []string
	// ratios are the ratios that it has, as sources name them.
	ratios() []string
	// known reports whether one of its ratios has a figure.
	known(ratio string) bool
	// asks are the ratios that can be measured.
	asks() []measure
	// take puts a measured ratio into the part, on a copy of what it is made of.
	take(p *Part, ratio string, m Measured)
	// blank puts in the same build with nothing known of its figures.
	blank(p *Part)
	// expand adds its shafts and elements behind the shaft in, which lies along
	// axis; one that isn't whole passes nothing on.
	expand(m *machine, p *Part, in string, axis Axis, whole bool)
}

// measure is a ratio of a part that can be measured, as package identify asks.
type measure struct{ ratio, words, kind, position, held, input string }

// plain is a part with one output and no ratio; kinds are made from it.
type plain struct{}

func (plain) check(*Part, string, *fault.Errors) {}
func (plain) ports() []string                    { return []string{""} }
func (plain) ratios() []string                   { return nil }
func (plain) known(string) bool                  { return false }
func (plain) asks() []measure                    { return nil }
func (plain) take(*Part, string, Measured)       {}
func (plain) blank(*Part)                        {}

// kind is one kind of part, and where a Part keeps what it is made of.
type kind struct {
	name   string
	filled func(*Part) bool
	get    func(*Part) made
}

// of is a kind whose property lies at a pointer of the Part; get fills it in
// where it was left out.
func of[T any, M interface {
	*T
	made
}](name string, at func(*Part) *M) kind {
	return kind{
		name:   name,
		filled: func(p *Part) bool { return *at(p) != nil },
		get: func(p *Part) made {
			if *at(p) == nil {
				*at(p) = new(T)
			}
			return *at(p)
		},
	}
}

// kinds of part, in the order in which power passes them.
var kinds = []kind{
	of("engine", func(p *Part) **Engine { return &p.Engine }),
	of("clutch", func(p *Part) **Clutch { return &p.Clutch }),
	of("gearbox", func(p *Part) **Gearbox { return &p.Gearbox }),
	of("planetary", func(p *Part) **Planetary { return &p.Planetary }),
	of("transfer_case", func(p *Part) **TransferCase { return &p.TransferCase }),
	{"shaft", func(*Part) bool { return false }, func(*Part) made { return bareShaft{} }},
	of("differential", func(p *Part) **Differential { return &p.Differential }),
	of("gear_pair", func(p *Part) **GearPair { return &p.GearPair }),
	of("axle", func(p *Part) **Axle { return &p.Axle }),
	of("hub", func(p *Part) **Hub { return &p.Hub }),
	of("wheel", func(p *Part) **Wheel { return &p.Wheel }),
	of("upper", func(p *Part) **Upper { return &p.Upper }),
	of("reverse_gear", func(p *Part) **ReverseGear { return &p.ReverseGear }),
	of("gearcase", func(p *Part) **Gearcase { return &p.Gearcase }),
	of("propeller", func(p *Part) **Propeller { return &p.Propeller }),
}

// PartKinds names the kinds of part, in the order in which power passes them.
func PartKinds() []string {
	out := make([]string, len(kinds))
	for i, k := range kinds {
		out[i] = k.name
	}
	return out
}

// made is what a part is made of; of a kind that isn't known it is nothing.
func (p *Part) made() made {
	for _, k := range kinds {
		if k.name == p.Kind {
			return k.get(p)
		}
	}
	return bareShaft{}
}

func (p *Part) ports() []string         { return p.made().ports() }
func (p *Part) known(ratio string) bool { return p.made().known(ratio) }
