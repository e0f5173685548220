package findfault

import (
	"slices"
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/driveline/breaks"
	"zorvel/core/driveline/trace"
	"zorvel/core/say"
)

// Complaint is what people say, with what it means for the model.
type Complaint struct {
	ID    string `json:"id"`
	Group string `json:"group"` // drive, noise, shift, heat, leak, oil, cooling, history or look
	Words string `json:"words"`
	// Heard is how else owners say it, to find it by.
	Heard    string     `json:"heard,omitempty"`
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
	of := v.all
	add := func(id, group, words string, list ...Evidence) {
		for i := range list {
			list[i].Words = words
		}
		out = append(out, Complaint{ID: id, Group: group, Words: words, Heard: heard[id], Evidence: list})
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
	if err := m.creeping(info, add); err != nil {
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
		out = append(out, Complaint{ID: strings.Trim(x.ID+"_"+x.Part, "_"), Group: x.Group, Words: x.Words, Heard: heard[x.ID], Evidence: e})
	}
	nameParts(&m.doc, out)
	return out, nil
}

// heard is how owners say a complaint otherwise.
var heard = map[string]string{
	"no_drive": "won't move, doesn't go, no go", "backward": "goes backward, reversed", "locked": "stuck, seized, won't roll",
	"bang": "loud pop, crack, boom", "burnt": "clutch smell, burning", "revs": "slips, no pull, engine races",
	"knocks": "clicking, ticking, clatter, rattle, grinding", "clunk": "thud, bump, slack, knock on and off the gas",
	"shudder": "judder, chatter, shakes at takeoff", "winds_up": "crow hop, scrubbing, tight in turns",
	"shakes": "vibration, wobble, shimmy, buzz", "corner": "noise in turns, clicking when turning, popping in a turn",
	"whine_drive": "howl, sing, gear noise on drive", "whine_coast": "howl on deceleration, off the gas",
	"hums": "hum, drone, roar, growl, whir on drive and coast", "skips": "chain slip, jumps", "squeaks": "chirp, squeal, u-joint",
	"clash_one": "grinds, crunch, synchro", "clash_all": "grinds, crunch", "stiff_all": "stiff, notchy",
	"jumps": "pops out of gear, falls out", "chatter": "chatters in corners, posi", "spins": "one wheel spins, one-tire fire",
	"hot_hub": "hot wheel, dragging brake", "milky": "water in oil, milkshake", "leak_yoke": "pinion seal, drips",
	"leak_wheel": "axle seal, wet brake", "leak_output": "tail seal, drips", "since_work": "after repair, after service",
	"since_tires": "new tires, bigger tires", "overheats": "runs hot, alarm", "weak": "no stream, telltale",
}

// nameParts adds the part to complaints that several parts share word for word.
func nameParts(d *driveline.Document, list []Complaint) {
	said := map[string]int{}
	for _, c := range list {
		said[c.Words]++
	}
	for i := range list {
		c := &list[i]
		if said[c.Words] < 2 {
			continue
		}
		if p := d.Part(c.Evidence[0].Part); p != nil {
			c.Words += ": " + say.Small(p.Called())
		}
	}
}

// creeping adds the positions in which the whole unit stays put, one lever at a time:
// there it may creep.
func (m *Model) creeping(info *trace.Trace, add func(id, group, words string, list ...Evidence)) error {
	for _, l := range info.Selectors {
		for i, o := range l.Options {
			if i == 0 && l.Value == o.Value {
				continue
			}
			here, err := m.at(info, state(&l, o))
			if err != nil {
				return err
			}
			for _, c := range here {
				if strings.HasPrefix(c.ID, "creeps_") {
					add(c.ID, c.Group, c.Words, c.Evidence...)
				}
			}
		}
	}
	return nil
}

// state is a lever in a position, with what that position needs of others.
func state(l *driveline.Selector, o driveline.SelectorOption) driveline.State {
	st := driveline.State{Select: map[string]string{l.ID: o.Value}}
	for _, n := range o.Needs {
		st.Select[n.Selector] = n.Value
	}
	return st
}

// ComplaintsAt lists what a driveline may do with its levers set so: drive, not drive,
// drive there only, lock up; or creep, where it should stay put.
func ComplaintsAt(d *driveline.Document, st driveline.State) ([]Complaint, error) {
	m, err := NewModel(*d)
	if err != nil {
		return nil, err
	}
	info, err := trace.Run(&m.doc, driveline.State{}, trace.Want{})
	if err != nil {
		return nil, err
	}
	return m.at(info, st)
}

func (m *Model) at(info *trace.Trace, st driveline.State) ([]Complaint, error) {
	here, err := m.view(st)
	if err != nil {
		return nil, err
	}
	plain, err := m.view(driveline.State{})
	if err != nil {
		return nil, err
	}
	name, words, joined := m.set(info, st)
	told := spoken[m.doc.Lies]
	var out []Complaint
	add := func(id, words string, list ...Evidence) {
		for i := range list {
			list[i].Words = words
		}
		out = append(out, Complaint{ID: id + "_" + name, Group: "drive", Words: words, Evidence: list})
	}
	whole, err := m.drives(here)
	if err != nil {
		return nil, err
	}
	if !whole {
		add("creeps", told[4]+" or creeps "+words, here.all(st, breaks.Follows))
		return out, nil
	}
	add("drives", told[4]+" "+words, here.all(st, breaks.Follows))
	add("not", told[5]+" "+words, here.all(st, breaks.Stays))
	if name != "" {
		add("only", told[4]+" only "+words, plain.all(driveline.State{}, breaks.Stays), here.all(st, breaks.Follows))
	}
	binds := "Locks up "
	if joined && m.doc.Lies == driveline.Vehicle { // in turns it winds up, and should
		binds = "Winds up or locks, even straight ahead, "
	}
	add("binds", binds+words, here.all(st, breaks.Locked))
	return out, nil
}

// set says how the levers are set, in the words that follow what the unit does, with a
// name of letters for it, and whether something is locked together that otherwise turns
// by itself. Levers at rest are left out; with all at rest the words are the first
// gear's, or none.
func (m *Model) set(info *trace.Trace, st driveline.State) (name, words string, joined bool) {
	var names, said []string
	for i := range info.Selectors {
		l := &info.Selectors[i]
		v, moved := st.Select[l.ID]
		o := l.Option(v)
		if !moved || o == nil || v == l.Value {
			continue
		}
		names = append(names, l.ID+"_"+v)
		said = append(said, l.Set(*o, info.Selectors))
		joined = joined || joins(l.ID, v)
	}
	if len(said) == 0 {
		for i := range info.Selectors {
			if l := &info.Selectors[i]; l.Role == driveline.RoleGear || l.Role == driveline.RoleWay {
				return "", l.Set(*l.Stands(), info.Selectors), false
			}
		}
		return "", "with everything as it is", false
	}
	return strings.ReplaceAll(strings.Join(names, "_"), ".", "_"), strings.Join(said, ", "), joined
}

// all is everything that is watched doing the same, but for the speedometer.
func (v *view) all(st driveline.State, does string) Evidence {
	e := Evidence{State: st}
	for _, w := range v.watch {
		if w != breaks.Speedometer {
			e.Seen = append(e.Seen, Seen{w, does})
		}
	}
	return e
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

// spoken are the first things that are said of each: nothing follows, the wrong
// way, locked, as it should; and what "drives" and "does not drive" are called.
var spoken = map[driveline.Lies][6]string{
	driveline.Vehicle: {"No drive in first gear", "Drives the wrong way", "It can't be moved at all",
		"Drives in first gear", "Drives", "No drive"},
	driveline.Boat: {"In forward, nothing turns the propeller", "The propeller turns the wrong way",
		"The propeller can't be turned at all", "In forward, the propeller turns", "The propeller turns",
		"The propeller does not turn"},
	driveline.Bench: {"The input turns and the output doesn't", "The output turns the wrong way",
		"It can't be turned at all", "The output follows the input", "The output follows", "The output does not follow"},
}

// breaking are signs that people also have who don't drive any more.
var breaking = []string{"bang", "knocks", "since_work", "since_tires", "revs", "milky", "metal", "leak_yoke",
	"leak_wheel", "leak_output", "burnt", "clash_all", "stiff_all", "not_in", "overheats", "weak", "fast_only",
	"stalls_reverse", "stalls_forward", "grinds", "hard_out", "motor_dead"}
