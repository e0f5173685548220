package driveline

import (
	"slices"
	"strings"

	"zorvel/core/exact"
	"zorvel/core/fault"
)

// State is how the driveline stands at one moment.
type State struct {
	// Input is the shaft that is turned; the shaft at which power enters if
	// left out.
	Input *Input `json:"input,omitempty"`
	// Select sets selectors by their IDs: "gearbox": "3", "case.range": "low".
	Select map[string]string `json:"select,omitempty"`
	// Hold lists shafts (or wheels) that are held still.
	Hold []string `json:"hold,omitempty"`
	// Wheels sets wheels: ground, lifted, ice or held.
	Wheels map[string]string `json:"wheels,omitempty"`
	// Broken lists parts that pass nothing on: a sheared shaft.
	Broken []string `json:"broken,omitempty"`
	// Engine, where another shaft is turned: stopped (its compression holds
	// it; the default) or free.
	Engine string  `json:"engine,omitempty"`
	Corner *Corner `json:"corner,omitempty"`
	// Losses takes typical efficiencies off the torques.
	Losses bool `json:"losses,omitempty"`
}

// Input is what turns the driveline.
type Input struct {
	Shaft string `json:"shaft,omitempty"`
	// RPM and Turns are of that shaft; they scale what is shown and change
	// no multiple. Negative turns it the other way.
	RPM   float64      `json:"rpm,omitempty"`
	Turns exact.Figure `json:"turns,omitzero"`
}

// Corner is a steady turn. The radius is that of the middle of the unsteered
// axle's path.
type Corner struct {
	RadiusM float64 `json:"radius_m"`
	Toward  string  `json:"toward"` // left or right
}

// Selector is something a driver, or a hand on a lever, sets.
type Selector struct {
	ID      string           `json:"id"`
	Part    string           `json:"part"`
	Name    string           `json:"name"`
	Value   string           `json:"value"`
	Options []SelectorOption `json:"options"`
	Role    Role             `json:"-"`
}

// Role is what a selector does.
type Role int

// What a selector does.
const (
	RoleLock   Role = iota // locks, lets go or shares
	RoleClutch             // parts the engine from the rest
	RoleGear               // one of many gears
	RoleRange              // high or low
	RoleWay                // ahead or astern
)

// ChangesRatio reports whether its position changes the overall ratio.
func (s *Selector) ChangesRatio() bool { return s.Role >= RoleGear }

// Stands is the position in which it stands.
func (s *Selector) Stands() *SelectorOption { return s.Option(s.Value) }

// SelectorOption is one position; Needs lists what else must be set for it.
type SelectorOption struct {
	Value string `json:"value"`
	Words string `json:"words"`
	Needs []Need `json:"needs,omitempty"`
	// Neutral says that nothing passes, and Backward that it drives the other way.
	Neutral  bool `json:"-"`
	Backward bool `json:"-"`
}

// Need is an interlock.
type Need struct {
	Selector string `json:"selector"`
	Value    string `json:"value"`
}

// Wheel states.
const (
	OnGround = "ground"
	Lifted   = "lifted"
	OnIce    = "ice"
	Held     = "held"
)

var wheelStates = []string{OnGround, Lifted, OnIce, Held}

// CheckState refuses positions that the unit doesn't have.
func (m *Machine) CheckState(s *State) error {
	if err := fault.Figures(s); err != nil {
		return fault.Under("state", err)
	}
	var errs fault.Errors
	for id, v := range s.Select {
		sel := m.Selector(id)
		if sel == nil {
			errs.Add("state/select/"+id, "this driveline has no such selector; it has %s", m.selectorNames())
			continue
		}
		o := sel.Option(v)
		if o == nil {
			errs.Add("state/select/"+id, "the %s takes %s", strings.ToLower(sel.Name), sel.values())
			continue
		}
		for _, n := range o.Needs {
			if other := m.Selector(n.Selector); other != nil && other.Value != n.Value {
				errs.Add("state/select/"+id, "an interlock: %s is taken only with %s at %s", o.Words, strings.ToLower(other.Name),
					other.Option(n.Value).Words)
			}
		}
	}
	for id, v := range s.Wheels {
		if p := m.Part(id); p == nil || p.Wheel == nil {
			errs.Add("state/wheels/"+id, "there is no such wheel")
		} else if !slices.Contains(wheelStates, v) {
			errs.Add("state/wheels/"+id, "a wheel is on the ground, lifted, on ice or held: one of %s", strings.Join(wheelStates, ", "))
		}
	}
	for _, id := range s.Hold {
		if m.Holdable(id) == "" {
			errs.Add("state/hold", "there is no shaft or wheel %q", id)
		}
	}
	for _, id := range s.Broken {
		if m.Part(id) == nil {
			errs.Add("state/broken", "there is no part %q", id)
		}
	}
	if in := s.Input; in != nil {
		if in.Shaft != "" && m.Shaft(in.Shaft) == nil {
			errs.Add("state/input/shaft", "there is no shaft %q", in.Shaft)
		}
		if in.RPM < -100000 || in.RPM > 100000 {
			errs.Add("state/input/rpm", "from -100,000 to 100,000 rpm")
		}
		if t := in.Turns.Abs(); t.Cmp(exact.Int(1000000)) > 0 {
			errs.Add("state/input/turns", "at most 1,000,000 turns")
		}
	}
	switch s.Engine {
	case "", "stopped", "free", "running":
	default:
		errs.Add("state/engine", "running, stopped or free")
	}
	if c := s.Corner; c != nil {
		if c.Toward != "left" && c.Toward != "right" {
			errs.Add("state/corner/toward", "left or right")
		}
		if min := m.LeastRadius(); c.RadiusM < min || c.RadiusM > 100000 {
			errs.Add("state/corner/radius_m", "from %.1f m (the inner wheels would stand still or roll back in a tighter corner) to 100,000 m", min)
		}
	}
	return errs.Err()
}

func (s *Selector) Option(v string) *SelectorOption {
	for i := range s.Options {
		if s.Options[i].Value == v {
			return &s.Options[i]
		}
	}
	return nil
}

// Neutrals are the positions that leave every gearbox in neutral.
func (m *Machine) Neutrals() map[string]string {
	out := map[string]string{}
	for _, s := range m.Selectors {
		if s.Role != RoleGear {
			continue
		}
		for _, o := range s.Options {
			if o.Neutral {
				out[s.ID] = o.Value
			}
		}
	}
	return out
}

// Neutral is every gearbox in neutral.
func (d *Document) Neutral() map[string]string { return Build(d, &State{}).Neutrals() }

func (s *Selector) values() string {
	out := make([]string, len(s.Options))
	for i, o := range s.Options {
		out[i] = o.Value
	}
	return strings.Join(out, ", ")
}

func (m *Machine) Selector(id string) *Selector {
	for i := range m.Selectors {
		if m.Selectors[i].ID == id {
			return &m.Selectors[i]
		}
	}
	return nil
}

func (m *Machine) selectorNames() string {
	if len(m.Selectors) == 0 {
		return "none"
	}
	out := make([]string, len(m.Selectors))
	for i, s := range m.Selectors {
		out[i] = s.ID
	}
	return strings.Join(out, ", ")
}
