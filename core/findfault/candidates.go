package findfault

import (
	"maps"
	"slices"
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/driveline/trace"
	"zorvel/core/exact"
)

// candidates lists every test of this unit, once: signs that are looked for, and
// what the network itself offers.
func (m *Model) candidates() []candidate {
	if m.tests != nil {
		return m.tests
	}
	m.tests = []candidate{}
	for i := range m.signs {
		x := &m.signs[i]
		if x.Ask != "" && m.brought(x) {
			m.tests = append(m.tests, candidate{title: x.Ask, setup: slices.Concat([]string{}, x.setup), road: x.Road, sign: x})
		}
	}
	m.tests = append(m.tests, m.turning()...)
	return m.tests
}

// lever is one position of one lever that isn't the first.
type lever struct {
	role    driveline.Role
	neutral bool // of a gearbox or a range: nothing drives off
	words   string
	needs   map[string]string
}

// turning lists tests by hand with the wheels lifted, every flange and wheel
// turned in neutral, in a gear and with each lock, and road tests in each
// position of each lever.
func (m *Model) turning() []candidate {
	d := &m.doc
	info, err := trace.Run(d, driveline.State{}, trace.Want{})
	if err != nil {
		return nil
	}
	lift, neutral := d.LiftAll(), d.Neutral()
	var levers []lever
	for _, l := range info.Selectors {
		for i, o := range l.Options {
			if i > 0 || l.Value != o.Value {
				x := lever{l.Role, o.Neutral && (l.Role == driveline.RoleGear || l.Role == driveline.RoleRange),
					l.Set(o, info.Selectors), map[string]string{l.ID: o.Value}}
				for _, n := range o.Needs {
					x.needs[n.Selector] = n.Value
				}
				levers = append(levers, x)
			}
		}
	}
	var out []candidate
	add := func(title string, road bool, setup []string, st driveline.State) {
		if len(out) < mostTests {
			out = append(out, candidate{state: st, setup: setup, title: title, road: road})
		}
	}
	up := []string{"all wheels off the ground, on jack stands"}
	if d.Lies != driveline.Vehicle {
		up = []string{"propeller free to turn, lanyard and key out", "turn only the engine's way"}
	}
	for _, sh := range info.Shafts {
		p := slices.IndexFunc(d.Parts, func(x driveline.Part) bool { return x.ID == sh.Part })
		if p < 0 || d.Parts[p].Traits().Reach != driveline.InTheOpen {
			continue
		}
		in := &driveline.Input{Shaft: sh.ID, Turns: exact.Figure{Number: exact.Int(1)}}
		title := "Turn the " + sh.Name + " by hand"
		add(title, false, slices.Concat(up, []string{"neutral, brake off"}), driveline.State{Select: neutral, Wheels: lift, Input: in})
		add(title, false, slices.Concat(up, []string{"in first gear, engine off"}), driveline.State{Wheels: lift, Input: in})
		for _, l := range levers {
			if l.role == driveline.RoleGear {
				continue
			}
			set := maps.Clone(neutral)
			maps.Copy(set, l.needs)
			add(title, false, slices.Concat(up, []string{"neutral, brake off", l.words}), driveline.State{Select: set, Wheels: lift, Input: in})
		}
	}
	for _, held := range heldShafts(d) {
		turn := slices.IndexFunc(info.Shafts, func(x trace.ShaftOut) bool { return x.ID == held.wheel })
		shaft := slices.IndexFunc(info.Shafts, func(x trace.ShaftOut) bool { return x.ID == held.shaft })
		if turn < 0 || shaft < 0 {
			continue
		}
		wheel, fed := info.Shafts[turn].Name, info.Shafts[shaft].Name
		// A differential then drives the other wheel backward, by both axle shafts.
		add("Turn the "+wheel+" by hand, the "+fed+" held", false, slices.Concat(up, []string{"neutral, brake off", "a helper holds the " + fed}),
			driveline.State{Select: neutral, Wheels: lift, Hold: []string{held.shaft}, Input: &driveline.Input{Shaft: held.wheel, Turns: exact.Figure{Number: exact.Int(1)}}})
	}
	title := "Drive off"
	if len(lift) == 0 {
		title = "Let the engine turn it"
	}
	add(title, true, []string{"as it is"}, driveline.State{})
	for _, l := range levers {
		if !l.neutral {
			add(title, true, []string{l.words}, driveline.State{Select: l.needs})
		}
	}
	return out
}

// heldWheel is a wheel that is turned while the shaft that feeds its axle is held.
type heldWheel struct{ wheel, shaft string }

// heldShafts are the axles that a drive shaft feeds, each by its first wheel.
func heldShafts(d *driveline.Document) []heldWheel {
	var out []heldWheel
	shafts, wheels := d.WithA(driveline.DriveShaft), d.WithA(driveline.RoadWheel)
	for _, axle := range d.WithA(driveline.FinalDrive) {
		k := slices.IndexFunc(shafts, func(p *driveline.Part) bool { return p.ID == axle.From })
		w := slices.IndexFunc(wheels, func(p *driveline.Part) bool { return strings.HasPrefix(p.From, axle.ID+".") })
		if k >= 0 && w >= 0 {
			out = append(out, heldWheel{wheels[w].ID + ".wheel", axle.From + ".shaft"})
		}
	}
	return out
}

// brought is whether any fault of the unit brings a sign.
func (m *Model) brought(x *SignOf) bool {
	for i := range m.faults {
		if x.chance([]*Fault{&m.faults[i]}, false) > x.Usual+1e-9 {
			return true
		}
	}
	return false
}
