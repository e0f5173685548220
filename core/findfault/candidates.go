package findfault

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/driveline/breaks"
	"zorvel/core/driveline/trace"
	"zorvel/core/exact"
	"zorvel/core/say"
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
					say.Small(l.Name) + ": " + o.Words, map[string]string{l.ID: o.Value}}
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
	up := []string{"all wheels off the ground, on stands"}
	if d.Lies != driveline.Vehicle {
		up = []string{"propeller free to turn, lanyard and key out", "only the engine's way round"}
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
		// A differential then drives the other wheel backward, by both half shafts.
		add("Turn the "+wheel+" by hand, the "+fed+" held", false, slices.Concat(up, []string{"neutral, brake off", "a helper holds the " + fed}),
			driveline.State{Select: neutral, Wheels: lift, Hold: []string{held.shaft}, Input: &driveline.Input{Shaft: held.wheel, Turns: exact.Figure{Number: exact.Int(1)}}})
	}
	title := "Drive off"
	if len(lift) == 0 {
		title = "Let the engine turn it"
	}
	add(title, true, []string{"as it stands"}, driveline.State{})
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

// Complaint is what people say, with what it means for the model.
type Complaint struct {
	ID       string     `json:"id"`
	Group    string     `json:"group"` // drive, noise, shift, heat, leak, oil, cooling, history or look
	Words    string     `json:"words"`
	Evidence []Evidence `json:"evidence"`
}

// Complaints lists those that fit a driveline: it has the levers and the parts
// for them.
func Complaints(d *driveline.Document) ([]Complaint, error) {
	m, err := NewModel(*d)
	if err != nil {
		return nil, err
	}
	info, err := trace.Run(&m.doc, driveline.State{}, trace.Want{})
	if err != nil {
		return nil, err
	}
	plain := driveline.State{}
	v, err := m.view(plain)
	if err != nil {
		return nil, err
	}
	var out []Complaint
	of := func(st driveline.State, what string) Evidence {
		e := Evidence{State: st}
		for _, w := range v.watch {
			if w != breaks.Speedometer {
				e.Seen = append(e.Seen, Seen{w, what})
			}
		}
		return e
	}
	add := func(id, group, words string, list ...Evidence) {
		for i := range list {
			list[i].Words = words
		}
		out = append(out, Complaint{id, group, words, list})
	}
	told := spoken[d.Lies]
	if whole, err := m.drives(v); err != nil {
		return nil, err
	} else if whole {
		add("no_drive", "drive", told[0], of(plain, breaks.Stays))
	}
	add("backward", "drive", told[1], of(plain, breaks.Opposite))
	add("locked", "drive", told[2], of(plain, breaks.Locked))
	sound, err := m.shows(v, nil)
	if err != nil {
		return nil, err
	}
	if slices.Contains(sound, breaks.Follows) {
		e := Evidence{State: plain}
		for i, w := range v.watch {
			if w != breaks.Speedometer {
				e.Seen = append(e.Seen, Seen{w, sound[i]})
			}
		}
		add("drives", "drive", told[3], e)
	}
	if slices.Contains(v.watch, breaks.Speedometer) {
		add("speedometer_dead", "drive", "The speedometer is dead, though it drives", of(plain, breaks.Follows),
			Evidence{Seen: []Seen{{breaks.Speedometer, breaks.Stays}}})
		add("speedometer_alive", "drive", "The speedometer runs, though it does not drive", of(plain, breaks.Stays),
			Evidence{Seen: []Seen{{breaks.Speedometer, breaks.Follows}}})
	}
	if err := m.complainOfPositions(info, of, add); err != nil {
		return nil, err
	}
	for _, x := range m.signs {
		if !x.Complaint || !m.brought(&x) {
			continue
		}
		e := []Evidence{{Sign: x.ID, Part: x.Part, Says: Yes, Complaint: true}}
		// Who complains of a whine or a leak drives.
		if !slices.Contains(breaking, x.ID) {
			e = append(e, of(plain, breaks.Follows))
		}
		out = append(out, Complaint{strings.Trim(x.ID+"_"+x.Part, "_"), x.Group, x.Words, e})
	}
	return out, nil
}

// complainOfPositions offers what may be wrong with each position of a lever.
func (m *Model) complainOfPositions(info *trace.Trace, of func(driveline.State, string) Evidence,
	add func(id, group, words string, list ...Evidence)) error {
	plain, told := driveline.State{}, spoken[m.doc.Lies]
	for _, l := range info.Selectors {
		for i, o := range l.Options {
			if i == 0 && l.Value == o.Value {
				continue
			}
			st := driveline.State{Select: map[string]string{l.ID: o.Value}}
			for _, n := range o.Needs {
				st.Select[n.Selector] = n.Value
			}
			words := say.Small(l.Name) + " at " + o.Words
			name := strings.ReplaceAll(l.ID+"_"+o.Value, ".", "_")
			here, err := m.view(st)
			if err != nil {
				continue
			}
			// What it does when nothing is wrong is no complaint.
			if whole, err := m.drives(here); err != nil {
				return err
			} else if !whole {
				add("creeps_"+name, "drive", fmt.Sprintf("%s or creeps with %s", told[4], words), of(st, breaks.Follows))
				continue
			}
			add("only_"+name, "drive", fmt.Sprintf("%s only with %s", told[4], words), of(plain, breaks.Stays), of(st, breaks.Follows))
			add("not_"+name, "drive", fmt.Sprintf("Does not %s with %s", told[5], words), of(st, breaks.Stays))
			binds := "Locks with %s"
			if m.doc.Lies == driveline.Vehicle && joins(l.ID, o.Value) { // in turns it winds up, and should
				binds = "Winds up or locks even straight ahead with %s"
			}
			add("binds_"+name, "drive", fmt.Sprintf(binds, words), of(st, breaks.Locked))
		}
	}
	return nil
}

// drives reports whether the whole unit drives in a state.
func (m *Model) drives(v *view) (bool, error) {
	does, err := m.shows(v, nil)
	if err != nil {
		return false, err
	}
	for i, w := range v.watch {
		if w != breaks.Speedometer && does[i] != breaks.Follows {
			return false, nil
		}
	}
	return true, nil
}

// joins reports whether a lever's position locks together what otherwise turns by
// itself: wind-up in turns on pavement is then normal.
func joins(lever, value string) bool {
	_, what, _ := strings.Cut(lever, ".")
	return value == "locked" && (what == "center" || what == "lock")
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

// spoken are the first things that are said of each: nothing follows, the wrong
// way, locked, as it should; and what "drives" is called.
var spoken = map[driveline.Lies][6]string{
	driveline.Vehicle: {"No drive in first gear", "Drives the wrong way", "It can't be moved at all", "Drives in first gear", "Drives", "drive"},
	driveline.Boat:    {"In forward, nothing turns the propeller", "The propeller turns the wrong way", "The propeller can't be turned at all", "In forward, the propeller turns", "The propeller turns", "turn the propeller"},
	driveline.Bench:   {"The input turns and nothing follows", "The output turns the wrong way", "It can't be turned at all", "The output follows the input", "The output follows", "turn its output"},
}

// breaking are signs that people also have who don't drive any more.
var breaking = []string{"bang", "knocks", "since_work", "since_tires", "revs", "milky", "metal", "leak_yoke", "leak_wheel", "leak_output", "burnt", "clash_all", "stiff_all", "not_in", "overheats", "weak", "fast_only", "stalls_reverse", "stalls_forward", "grinds", "hard_out", "motor_dead"}
