package driveline

import "zorvel/core/fault"

// Part is one thing that can be unbolted. The property named like its kind
// holds what it is made of; a ratio that isn't known is left out.
type Part struct {
	ID   string `json:"id"`
	Kind string `json:"kind"`
	Name string `json:"name,omitempty"`
	// From is the output that feeds it: "gearbox", or "case.front" where a
	// part has several.
	From string `json:"from,omitempty"`
	// Mounting: upright (as drawn by its maker), turned_over (rolled about
	// its length) or end_for_end (turned about the upright).
	Mounting string  `json:"mounting,omitempty"`
	RatedNM  float64 `json:"rated_nm,omitempty"` // greatest torque at its input
	// Actuation moves its range, lock or gears: lever, cable, motor, air, vacuum
	// or hydraulic; each link of it can be what failed.
	Actuation string `json:"actuation,omitempty"`
	// BothWays says that its gear also goes on the wrong way round.
	BothWays bool `json:"both_ways,omitempty"`
	// Family names the gears that fit its housing, as in the shop's catalog.
	Family  string            `json:"family,omitempty"`
	Sources map[string]Source `json:"sources,omitempty"` // by ratio: "ratio", "low", "front", a gear's name

	Engine       *Engine       `json:"engine,omitempty"`
	Clutch       *Clutch       `json:"clutch,omitempty"`
	Gearbox      *Gearbox      `json:"gearbox,omitempty"`
	Planetary    *Planetary    `json:"planetary,omitempty"`
	TransferCase *TransferCase `json:"transfer_case,omitempty"`
	Axle         *Axle         `json:"axle,omitempty"`
	Differential *Differential `json:"differential,omitempty"`
	Hub          *Hub          `json:"hub,omitempty"`
	GearPair     *GearPair     `json:"gear_pair,omitempty"`
	Wheel        *Wheel        `json:"wheel,omitempty"`
	Upper        *Upper        `json:"upper,omitempty"`
	Gearcase     *Gearcase     `json:"gearcase,omitempty"`
	ReverseGear  *ReverseGear  `json:"reverse_gear,omitempty"`
	Propeller    *Propeller    `json:"propeller,omitempty"`
}

// made is what a kind of part is made of and does. Each kind has a file of its
// own, part_<kind>.go, and a line in kinds; plain answers for what a kind
// doesn't do. Nothing outside those files asks a part for its kind by name.
type made interface {
	// check refuses what can't be, at the path at, and fills in what is usual
	// where a word was left out.
	check(p *Part, at string, errs *fault.Errors)
	// traits are what it is like in a shop.
	traits() Traits
	// has lists what there is about it that other rooms ask for.
	has(p *Part) []Feature
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
	// adopt makes a new part of a stage that once stood by itself, and join puts
	// the stage into a part that is there; both report whether they do.
	adopt(p *Part, f Former) bool
	join(p *Part, f Former) (ratio string, ok bool)
	// expand adds its shafts and elements behind the shaft in, which lies along
	// axis; one that isn't whole passes nothing on.
	expand(m *Machine, p *Part, in string, axis Axis, whole bool)
	// passes is what it does between its input and its output, for one with
	// several its first. at says where a selector of it stands.
	passes(at func(selector string) string) Passed
	// shares is how it shares torque between its outputs; nil where every
	// output gets all of it.
	shares(at func(selector string) string) *Split
	// sides are the outputs whose turns, by weight, make those of its input.
	sides() []Side
	// between is how it shares between axles, nil for one that doesn't.
	between() *Between
	// speeds are the forward ratios that it can be shifted to.
	speeds() Speeds
	// remarks are what a mechanic would say of it in this state.
	remarks(r *Solved, p *Part, add adder)
	// trials are the tests by hand that tell something of it.
	trials(s *Stands, p *Part) []Trial
	// wear is what wears or leaks at it and moves as it should.
	wear(d *Document, p *Part) []Wear
	// showsAt are other parts at which what is wrong with it shows.
	showsAt(d *Document, p *Part) []string
}

// kind is one kind of part, and where a Part keeps what it is made of.
type kind struct {
	name   string
	filled func(*Part) bool
	get    func(*Part) made
	// own copies what a part is made of, so that it can be changed by itself.
	own func(*Part)
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
		own: func(p *Part) {
			if m := *at(p); m != nil {
				c := *m
				*at(p) = &c
			}
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
	{"shaft", func(*Part) bool { return false }, func(*Part) made { return bareShaft{} }, func(*Part) {}},
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

// Ports names the outputs of a part; one without a name is "".
func (p *Part) Ports() []string { return p.made().ports() }

// Known reports whether one of a part's ratios has a figure.
func (p *Part) Known(ratio string) bool { return p.made().known(ratio) }

// Traits are what a part is like in a shop.
func (p *Part) Traits() Traits { return p.made().traits() }

// Wear is what wears or leaks at a part and moves as it should.
func (d *Document) Wear(p *Part) []Wear { return p.made().wear(d, p) }

// ShowsAt are other parts at which what is wrong with a part shows.
func (d *Document) ShowsAt(p *Part) []string { return p.made().showsAt(d, p) }

// Between is how a part shares between axles, nil for one that doesn't.
func (p *Part) Between() *Between { return p.made().between() }

// Sides are the outputs whose turns, by weight, make those of a part's input.
func (p *Part) Sides() []Side { return p.made().sides() }

// Speeds are the forward ratios that a part can be shifted to.
func (p *Part) Speeds() Speeds { return p.made().speeds() }
