package driveline

import (
	"fmt"

	"zorvel/core/driveline/network"
	"zorvel/core/exact"
	"zorvel/core/say"
)

// expand adds the shafts and elements of a part fed by the shaft in.
func (m *machine) expand(p *Part, in string) {
	whole := !m.broken(p)
	axis := Lengthwise
	if in != "" {
		axis = m.byID[in].axis
	}
	switch p.Kind {
	case "engine":
		in = m.add(p, "crank", "crankshaft", p.Engine.Axis)
		m.root = in
		m.outs[p.ID] = in
	case "clutch":
		m.clutch(p, in, axis, whole)
	case "gearbox":
		m.gearbox(p, in, axis, whole)
	case "planetary":
		m.planetary(p, in, axis, whole)
	case "transfer_case":
		m.transferCase(p, in, whole)
	case "shaft":
		out := m.add(p, "shaft", say.Small(p.name()), axis)
		m.couple(p, network.Coupling, "joint", in, out, whole, say.Small(p.name()))
		m.outs[p.ID] = out
	case "axle":
		m.axle(p, in, whole)
	case "differential":
		m.divider(p, in, axis, whole)
	case "hub":
		m.hub(p, in, whole)
	case "gear_pair":
		g := p.GearPair
		out := m.add(p, "out", "output of the "+say.Small(p.name()), axis)
		if whole {
			sense, how := meshSense(g.Mesh, g.Idlers)
			m.gears(p, "mesh", "ratio", in, out, g.Drive, g.Driven, g.Ratio.Number, sense, pairWords("driven gear", g.Driven, "drive gear", g.Drive, how))
		}
		m.outs[p.ID] = out
	case "wheel":
		m.wheel(p, in, whole)
	case "upper":
		m.upper(p, in, whole)
	case "gearcase":
		m.gearcase(p, in, whole)
	case "reverse_gear":
		m.reverseGear(p, in, axis, whole)
	case "propeller":
		out := m.add(p, "prop", say.Small(p.name()), axis)
		m.couple(p, network.Coupling, "hub", in, out, whole, "propeller hub")
		m.element(p, network.Element{ID: p.ID + ".water", Kind: network.Load, Shaft: out}, joint{words: "water"})
		m.ends = append(m.ends, end{out, p, "propeller", p.name()})
	}
}

func pairWords(driven string, nd int, drive string, nr int, how string) string {
	s := driven + " on " + drive
	if nd > 0 {
		s = fmt.Sprintf("%s %d on %s %d", driven, nd, drive, nr)
	}
	if how != "" {
		s += ", " + how
	}
	return s
}

// meshSense is the sense of a pair with idlers between: each external mesh
// turns it around, an idler never changes the ratio.
func meshSense(kind string, idlers int) (network.Sense, string) {
	switch kind {
	case "internal":
		return network.Internal, "internal mesh: same direction"
	case "chain":
		return network.Chain, "chain: same direction"
	}
	how := ""
	switch idlers {
	case 0:
	case 1:
		how = "one idler between, which turns the direction and not the ratio; "
	default:
		how = fmt.Sprintf("%d idlers between, which leave the ratio alone; ", idlers)
	}
	if idlers%2 == 1 {
		return network.Internal, how + "same direction"
	}
	return network.External, how + "direction reversed"
}

func (m *machine) clutch(p *Part, in string, axis Axis, whole bool) {
	out := m.add(p, "out", "output of the "+say.Small(p.name()), axis)
	m.outs[p.ID] = out
	if p.Clutch.Type == "converter" {
		v := m.choose(p, "", p.name(), SelectorOption{Value: "locked", Words: "locked"}, SelectorOption{Value: "slipping", Words: "slipping"})
		slip := p.Clutch.Slip.Number
		if slip.IsZero() {
			slip = exact.New(5, 100)
		}
		if v == "slipping" && whole {
			m.element(p, network.Element{ID: p.ID + ".fluid", Kind: network.Fluid, A: in, B: out, Slip: slip},
				joint{words: fmt.Sprintf("converter slipping, typically %s %%", slip.Mul(exact.Int(100)).Short(1))})
			return
		}
		m.couple(p, network.Coupling, "clutch", in, out, whole, "converter locked")
		return
	}
	v := m.choose(p, "", p.name(), SelectorOption{Value: "engaged", Words: "engaged"}, SelectorOption{Value: "open", Words: "open, pedal down"})
	m.couple(p, network.Coupling, "clutch", in, out, v == "engaged" && whole, "clutch engaged")
}

func (m *machine) gearbox(p *Part, in string, axis Axis, whole bool) {
	g := p.Gearbox
	var options []SelectorOption
	for _, x := range g.Gears {
		options = append(options, SelectorOption{Value: x.Name, Words: gearWords(x.Name)})
	}
	options = append(options, SelectorOption{Value: "N", Words: "neutral"})
	v := m.choose(p, "", p.name(), options...)
	counter := ""
	if g.Arrangement == "countershaft" {
		counter = m.add(p, "counter", "countershaft", axis)
		m.gears(p, "constant", "constant", in, counter, g.Input, g.Counter, exact.Number{}, network.External,
			pairWords("countershaft gear", g.Counter, "input gear", g.Input, "always in mesh"))
	}
	out := m.add(p, "out", "output shaft of the "+say.Small(p.name()), axis)
	m.outs[p.ID] = out
	for _, x := range g.Gears {
		on := v == x.Name && whole
		words := gearWords(x.Name)
		switch {
		case x.Direct || (g.Arrangement == "ratios" && x.Ratio.Equal(one)):
			m.couple(p, network.Coupling, "direct", in, out, on, "direct: input locked to output, no torque through gear teeth")
		case g.Arrangement == "ratios":
			if on {
				m.gears(p, "gear "+x.Name, x.Name, in, out, 0, 0, x.Ratio.Number, network.Internal, words)
			}
		default:
			m.selectable(p, x, in, counter, out, axis, on, words)
		}
	}
}

// selectable adds a gear that runs loose until its dogs engage, or one that is
// slid into mesh.
func (m *machine) selectable(p *Part, x Gear, in, counter, out string, axis Axis, on bool, words string) {
	from := counter
	if from == "" {
		from = in
	}
	loose := out
	if x.Selector != "sliding" {
		loose = m.add(p, "gear "+x.Name, "loose gear of "+words, axis)
	} else if !on {
		return
	}
	if x.Idler > 0 {
		idler := m.add(p, "idler "+x.Name, "idler of "+words, axis)
		m.gears(p, "idler drive "+x.Name, x.Name, from, idler, x.Drive, x.Idler, exact.Number{}, network.External,
			pairWords("idler", x.Idler, "drive gear", x.Drive, "direction reversed once more"))
		from = idler
		m.gears(p, "gear "+x.Name, x.Name, from, loose, x.Idler, x.Driven, exact.Number{}, network.External,
			pairWords(words, x.Driven, "idler", x.Idler, "an idler changes the direction, not the ratio"))
	} else {
		m.gears(p, "gear "+x.Name, x.Name, from, loose, x.Drive, x.Driven, exact.Number{}, network.External,
			pairWords(words, x.Driven, "drive gear", x.Drive, ""))
	}
	if loose != out {
		how := "synchroniser"
		if x.Selector == "dog" {
			how = "dogs"
		}
		m.couple(p, network.Coupling, "select "+x.Name, loose, out, on, how+" of "+words+" engaged")
	}
}

func gearWords(name string) string {
	switch name {
	case "R":
		return "reverse"
	case "N":
		return "neutral"
	}
	return "gear " + name
}

func (m *machine) planetary(p *Part, in string, axis Axis, whole bool) {
	s := p.Planetary
	out := m.add(p, "out", "output of the "+say.Small(p.name()), axis)
	m.outs[p.ID] = out
	if !whole {
		return
	}
	member := map[string]string{s.Input: in}
	v := "low"
	if s.TwoSpeed {
		v = m.choose(p, "", p.name(), rangeOptions(nil)...)
	}
	driven := out
	if s.TwoSpeed {
		driven = m.add(p, s.Output, s.Output+" of the "+say.Small(p.name()), axis)
		m.couple(p, network.Coupling, "high", in, out, v == "high", "high: input locked to output")
		m.couple(p, network.Coupling, "low", driven, out, v == "low", "low engaged")
	}
	member[s.Output] = driven
	still := m.add(p, s.Held, s.Held+" of the "+say.Small(p.name()), axis)
	member[s.Held] = still
	m.element(p, network.Element{ID: p.ID + ".held", Kind: network.Holder, Shaft: still}, joint{words: s.Held + " held by the housing"})
	m.planets(p, "set", "ratio", member["sun"], member["ring"], member["carrier"], s.Sun, s.Ring, s.Paired,
		fmt.Sprintf("planetary set: sun %s, ring %s, %s driven, %s held", count(s.Sun), count(s.Ring), s.Input, s.Held))
}

func count(n int) string {
	if n == 0 {
		return "?"
	}
	return exact.Int(int64(n)).String()
}

func rangeOptions(low []Need) []SelectorOption {
	return []SelectorOption{{Value: "high", Words: "high range"}, {Value: "low", Words: "low range", Needs: low}, {Value: "N", Words: "neutral"}}
}

func (m *machine) transferCase(p *Part, in string, whole bool) {
	t := p.TransferCase
	// The center is asked first, so that the interlock can name it.
	center := ""
	locked := t.Center.Type == "solid"
	switch {
	case t.Center.Type == "part_time":
		center = m.choose(p, "center", "Front drive of the "+say.Small(p.name()),
			SelectorOption{Value: "two_wheel", Words: "rear only"}, SelectorOption{Value: "locked", Words: "front locked in"})
		locked = center == "locked"
	case t.Center.Type != "solid" && (t.Center.Lockable || t.Center.RearOnly):
		options := []SelectorOption{{Value: "open", Words: "center open"}}
		name := "Center lock of the "
		if t.Center.RearOnly {
			options = []SelectorOption{{Value: "two_wheel", Words: "rear only"}, {Value: "open", Words: "all wheels, center open"}}
			name = "Drive of the "
		}
		if t.Center.Lockable {
			options = append(options, SelectorOption{Value: "locked", Words: "center locked"})
		}
		center = m.choose(p, "center", name+say.Small(p.name()), options...)
		locked = center == "locked"
	}
	mid := m.transferRange(p, in, whole, t.Center.Type == "part_time" || t.Center.Lockable)
	rear := m.add(p, "rear", "rear output", Lengthwise)
	m.outs[p.ID+".rear"] = rear
	front := ""
	if t.Front.Type != "none" {
		front = m.add(p, "front drive", "front drive inside the "+say.Small(p.name()), Lengthwise)
	}
	drive := front // behind what can let the front go
	if front != "" && t.Center.RearOnly {
		m.couple(p, network.Lock, "rear only", mid, rear, center == "two_wheel" && whole, "rear only: the center turns as one, its planets at rest")
		front = m.add(p, "center front", "front side of the center in the "+say.Small(p.name()), Lengthwise)
		m.couple(p, network.Coupling, "front engaged", front, drive, center != "two_wheel" && whole, "front drive engaged")
	}
	switch {
	case front == "" || t.Center.Type == "part_time" || t.Center.Type == "solid":
		m.couple(p, network.Coupling, "main", mid, rear, whole, "straight through to the rear output")
		if front != "" {
			m.couple(p, network.Lock, "lock", mid, front, locked && whole, "front drive locked to the rear")
		}
	case t.Center.Type == "planetary":
		ring, sun := rear, front
		if t.Center.RingTo == "front" {
			ring, sun = front, rear
		}
		m.planets(p, "center", "center", sun, ring, mid, t.Center.Sun, t.Center.Ring, false,
			fmt.Sprintf("planetary center differential: carrier in, ring %s to the %s, sun %s to the other", count(t.Center.Ring), t.Center.RingTo, count(t.Center.Sun)))
		m.prefer = append(m.prefer, network.Preference{A: front, B: rear})
		m.couple(p, network.Lock, "lock", rear, front, locked && whole, "center locked")
	default:
		m.split(p, "center", rear, front, mid)
		m.couple(p, network.Lock, "lock", rear, front, locked && whole, "center locked")
	}
	if front == "" {
		return
	}
	out := m.add(p, "front", "front output", Lengthwise)
	m.outs[p.ID+".front"] = out
	f := t.Front
	switch f.Type {
	case "ratio":
		m.gears(p, "front", "front", drive, out, 0, 0, f.Ratio.Number, network.Internal, "drive to the front output")
	case "chain":
		m.gears(p, "front", "front", drive, out, f.Drive, f.Driven, f.Ratio.Number, network.Chain, pairWords("front sprocket", f.Driven, "drive sprocket", f.Drive, "chain: same direction"))
	case "gears":
		sense, how := meshSense("external", f.Idlers)
		m.gears(p, "front", "front", drive, out, f.Drive, f.Driven, f.Ratio.Number, sense, pairWords("front gear", f.Driven, "drive gear", f.Drive, how))
	}
}

// transferRange adds the range part and returns the shaft behind it.
func (m *machine) transferRange(p *Part, in string, whole, lockable bool) string {
	t := p.TransferCase
	if t.Range.Type == "none" {
		return in
	}
	var needs []Need
	if t.LowNeedsLock && lockable {
		needs = []Need{{p.ID + ".center", "locked"}}
	}
	v := m.choose(p, "range", "Range of the "+say.Small(p.name()), rangeOptions(needs)...)
	high, low := v == "high" && whole, v == "low" && whole
	mid := m.add(p, "main", "main shaft of the "+say.Small(p.name()), Lengthwise)
	r := t.Range
	if r.High.IsZero() || r.High.Equal(one) {
		m.couple(p, network.Coupling, "high", in, mid, high, "high range: straight through")
	} else if high {
		m.gears(p, "high", "high", in, mid, 0, 0, r.High.Number, network.Internal, "high range")
	}
	switch r.Type {
	case "ratio":
		if low {
			m.gears(p, "low", "low", in, mid, 0, 0, r.Low.Number, network.Internal, "low range")
		}
	case "planetary":
		carrier := m.add(p, "carrier", "planet carrier of the "+say.Small(p.name()), Lengthwise)
		ring := m.add(p, "ring", "ring gear of the "+say.Small(p.name()), Lengthwise)
		m.element(p, network.Element{ID: p.ID + ".ring held", Kind: network.Holder, Shaft: ring}, joint{words: "ring held by the housing"})
		m.planets(p, "low set", "low", in, ring, carrier, r.Sun, r.Ring, false, fmt.Sprintf("planetary low: sun %s driven, ring %s held", count(r.Sun), count(r.Ring)))
		m.couple(p, network.Coupling, "low", carrier, mid, low, "low range: the carrier drives on")
	case "gears":
		cluster := m.add(p, "cluster", "cluster of the "+say.Small(p.name()), Lengthwise)
		gear := m.add(p, "low gear", "low gear of the "+say.Small(p.name()), Lengthwise)
		m.gears(p, "cluster drive", "low", in, cluster, r.Input, r.Counter, exact.Number{}, network.External, pairWords("cluster gear", r.Counter, "input gear", r.Input, "always in mesh"))
		m.gears(p, "low gears", "low", cluster, gear, r.LowDrive, r.LowGear, exact.Number{}, network.External, pairWords("low gear", r.LowGear, "cluster gear", r.LowDrive, ""))
		m.couple(p, network.Coupling, "low", gear, mid, low, "low range: the low gear drives on")
	}
	return mid
}

func (m *machine) axle(p *Part, in string, whole bool) {
	a := p.Axle
	pinion := in
	if c := a.Change; c != nil {
		pinion = m.add(p, "pinion", "pinion shaft of the "+say.Small(p.name()), m.byID[in].axis)
		m.gears(p, "change", "change", in, pinion, c.Input, c.Pinion, exact.Number{}, network.External,
			pairWords("change gear on the pinion shaft", c.Pinion, "change gear on the input shaft", c.Input, "direction reversed"))
	}
	ring := m.add(p, "ring", "ring gear of the "+say.Small(p.name()), Crosswise)
	if whole {
		words := pairWords("ring gear", a.Ring, "pinion", a.Pinion, "")
		sense := network.External
		if a.Gears != "spur" {
			sense = m.bevelSense(p)
			where := fmt.Sprintf("ring on the %s, pinion %s", m.side(p), m.ahead(p))
			words += ", " + where
		}
		m.gears(p, "final", "ratio", pinion, ring, a.Pinion, a.Ring, a.Ratio.Number, sense, words)
	}
	carrier := ring
	if s := a.Second; s != nil {
		carrier = m.add(p, "carrier", "differential carrier of the "+say.Small(p.name()), Crosswise)
		still := m.add(p, "planet ring", "planetary ring of the "+say.Small(p.name()), Crosswise)
		m.element(p, network.Element{ID: p.ID + ".planet ring held", Kind: network.Holder, Shaft: still}, joint{words: "ring held by the housing"})
		m.planets(p, "second", "second", ring, still, carrier, s.Sun, s.Ring, false, fmt.Sprintf("second stage: sun %s driven, ring %s held", count(s.Sun), count(s.Ring)))
	}
	left := m.add(p, "left", "left output of the "+say.Small(p.name()), Crosswise)
	right := m.add(p, "right", "right output of the "+say.Small(p.name()), Crosswise)
	m.split(p, "differential", left, right, carrier)
	switch a.Differential.Type {
	case "spool":
		m.couple(p, network.Lock, "lock", left, carrier, whole, "spool: both sides solid with the carrier")
	case "locking":
		v := m.choose(p, "lock", "Lock of the "+say.Small(p.name()), SelectorOption{Value: "open", Words: "open"}, SelectorOption{Value: "locked", Words: "locked"})
		m.couple(p, network.Lock, "lock", left, carrier, v == "locked" && whole, "axle lock engaged")
	}
	if a.FreeHubs {
		v := m.choose(p, "hubs", "Hubs of the "+say.Small(p.name()), SelectorOption{Value: "locked", Words: "hubs locked"}, SelectorOption{Value: "free", Words: "hubs free"})
		l := m.add(p, "left hub", "left hub of the "+say.Small(p.name()), Crosswise)
		r := m.add(p, "right hub", "right hub of the "+say.Small(p.name()), Crosswise)
		m.couple(p, network.Coupling, "left hub lock", left, l, v == "locked", "hub locked")
		m.couple(p, network.Coupling, "right hub lock", right, r, v == "locked", "hub locked")
		left, right = l, r
	}
	if a.Disconnect != "" {
		v := m.choose(p, "side", "Disconnect of the "+say.Small(p.name()), SelectorOption{Value: "engaged", Words: "engaged"}, SelectorOption{Value: "free", Words: a.Disconnect + " half shaft let go"})
		side := &left
		if a.Disconnect == "right" {
			side = &right
		}
		out := m.add(p, "half shaft", a.Disconnect+" half shaft of the "+say.Small(p.name()), Crosswise)
		m.couple(p, network.Coupling, "disconnect", *side, out, v == "engaged" && whole, "half shaft engaged")
		*side = out
	}
	m.outs[p.ID+".left"], m.outs[p.ID+".right"] = left, right
}

func (m *machine) divider(p *Part, in string, axis Axis, whole bool) {
	d := p.Differential
	here := m.add(p, "here", "near output of the "+say.Small(p.name()), axis)
	through := m.add(p, "through", "through output of the "+say.Small(p.name()), axis)
	m.outs[p.ID+".here"], m.outs[p.ID+".through"] = here, through
	if d.Type == "planetary" {
		m.planets(p, "differential", "center", through, here, in, d.Sun, d.Ring, false,
			fmt.Sprintf("planetary differential: carrier in, ring %s to the near output, sun %s to the through output", count(d.Ring), count(d.Sun)))
		m.prefer = append(m.prefer, network.Preference{A: here, B: through})
	} else {
		m.split(p, "differential", here, through, in)
	}
	if d.Type == "locking" {
		v := m.choose(p, "lock", "Lock of the "+say.Small(p.name()), SelectorOption{Value: "open", Words: "open"}, SelectorOption{Value: "locked", Words: "locked"})
		m.couple(p, network.Lock, "lock", here, through, v == "locked" && whole, "inter-axle lock engaged")
	}
}

func (m *machine) hub(p *Part, in string, whole bool) {
	h := p.Hub
	out := m.add(p, "out", "output of the "+say.Small(p.name()), Crosswise)
	m.outs[p.ID] = out
	if !whole {
		return
	}
	if h.Type == "portal" {
		sense, how := meshSense("external", h.Idlers)
		m.gears(p, "mesh", "ratio", in, out, h.Drive, h.Driven, exact.Number{}, sense, pairWords("portal gear", h.Driven, "drive gear", h.Drive, how))
		return
	}
	ring := m.add(p, "ring", "ring gear of the "+say.Small(p.name()), Crosswise)
	m.element(p, network.Element{ID: p.ID + ".held", Kind: network.Holder, Shaft: ring}, joint{words: "ring held by the housing"})
	m.planets(p, "set", "ratio", in, ring, out, h.Sun, h.Ring, false, fmt.Sprintf("hub reduction: sun %s driven, ring %s held", count(h.Sun), count(h.Ring)))
}

func (m *machine) wheel(p *Part, in string, whole bool) {
	out := m.add(p, "wheel", say.Small(p.name()), Crosswise)
	m.couple(p, network.Coupling, "half shaft", in, out, whole, "half shaft to the wheel")
	m.ends = append(m.ends, end{out, p, "wheel", p.name()})
	switch m.wheelState(p) {
	case held:
		m.element(p, network.Element{ID: p.ID + ".held", Kind: network.Holder, Shaft: out}, joint{words: "wheel held"})
	case onGround:
		m.element(p, network.Element{ID: p.ID + ".road", Kind: network.Road, Shaft: out, Travel: travel(p), Factor: m.factors[p.ID]}, joint{words: "tire on the road"})
	}
}

// travel is meters per turn; a tire that isn't known counts as 2 m, the same
// for all, so that what is exact about turns stays exact.
func travel(p *Part) exact.Number {
	if p.Wheel.RollingMM.IsZero() {
		return exact.Int(2)
	}
	return p.Wheel.RollingMM.Number.Div(exact.Int(1000))
}

func (m *machine) wheelState(p *Part) string {
	if v := m.state.Wheels[p.ID]; v != "" {
		return v
	}
	if m.doc.Lies == Bench {
		return lifted
	}
	return onGround
}

func (m *machine) upper(p *Part, in string, whole bool) {
	u := p.Upper
	out := m.add(p, "out", "upright shaft below the "+say.Small(p.name()), Upright)
	m.outs[p.ID] = out
	// Seen from above, the upright shaft of an upper set is turned the way a
	// crankshaft would turn it: clockwise ahead.
	// Turned over, or turned end for end under the same shaft, it goes the
	// other way around.
	sense := network.Same
	if p.Mounting == "turned_over" || p.Mounting == "end_for_end" {
		sense = network.Opposite
	}
	m.marineGears(p, in, out, u.Pinion, u.Gear, u.Ratio.Number, u.Shift, whole, Upright, sense, "upper gear")
}

// marineGears adds a pinion that drives two gears opposite ways, of which a
// clutch picks one; or the one gear of a set that doesn't shift.
func (m *machine) marineGears(p *Part, in, out string, pinion, gear int, r exact.Number, shift, whole bool, axis Axis, sense network.Sense, word string) {
	if !shift {
		if whole {
			m.gears(p, "set", "ratio", in, out, pinion, gear, r, sense, pairWords(word, gear, "pinion", pinion, ""))
		}
		return
	}
	v := m.choose(p, "", p.name(), SelectorOption{Value: "forward", Words: "forward"}, SelectorOption{Value: "neutral", Words: "neutral"}, SelectorOption{Value: "reverse", Words: "reverse"})
	f := m.add(p, "forward gear", "forward gear", axis)
	b := m.add(p, "reverse gear", "reverse gear", axis)
	other := network.Opposite
	if sense == network.Opposite {
		other = network.Same
	}
	if whole {
		m.gears(p, "forward set", "ratio", in, f, pinion, gear, r, sense, pairWords("forward gear", gear, "pinion", pinion, "always in mesh"))
		if pinion == 0 && r.IsZero() {
			// One unknown, not two: the reverse gear is the forward gear's twin.
			m.element(p, network.Element{ID: p.ID + ".reverse set", Kind: network.Mesh, A: f, B: b, Ratio: exact.Int(1), Sense: network.Opposite}, joint{ratio: "ratio", words: "reverse gear, the forward gear's twin"})
		} else {
			m.gears(p, "reverse set", "ratio", in, b, pinion, gear, r, other, pairWords("reverse gear", gear, "pinion", pinion, "always in mesh, turning the other way"))
		}
	}
	m.couple(p, network.Coupling, "forward dogs", f, out, v == "forward" && whole, "sliding clutch in the forward gear")
	m.couple(p, network.Coupling, "reverse dogs", b, out, v == "reverse" && whole, "sliding clutch in the reverse gear")
}

func (m *machine) gearcase(p *Part, in string, whole bool) {
	g := p.Gearcase
	// Upright shaft clockwise from above, forward gear ahead of the pinion: the
	// propeller shaft turns clockwise seen from behind, which is against the
	// positive sense of a lengthwise shaft. Turned end for end or with the
	// forward gear behind the pinion it turns the other way.
	sense := network.Opposite
	if (g.Forward == "behind") != (p.Mounting == "end_for_end" || p.Mounting == "turned_over") {
		sense = network.Same
	}
	if g.Twin {
		other := network.Same
		if sense == network.Same {
			other = network.Opposite
		}
		outer := m.add(p, "outer", "outer propeller shaft", Lengthwise)
		inner := m.add(p, "inner", "inner propeller shaft", Lengthwise)
		m.outs[p.ID+".outer"], m.outs[p.ID+".inner"] = outer, inner
		if whole {
			m.gears(p, "outer set", "ratio", in, outer, g.Pinion, g.Gear, g.Ratio.Number, sense, pairWords("forward gear", g.Gear, "pinion", g.Pinion, ""))
			if g.Pinion == 0 && g.Ratio.IsZero() {
				m.element(p, network.Element{ID: p.ID + ".inner set", Kind: network.Mesh, A: outer, B: inner, Ratio: exact.Int(1), Sense: network.Opposite}, joint{ratio: "ratio", words: "twin gear, turning the other way"})
			} else {
				m.gears(p, "inner set", "ratio", in, inner, g.Pinion, g.Gear, g.Ratio.Number, other, pairWords("twin gear", g.Gear, "pinion", g.Pinion, "turning the other way"))
			}
		}
		return
	}
	out := m.add(p, "out", "propeller shaft", Lengthwise)
	m.outs[p.ID] = out
	m.marineGears(p, in, out, g.Pinion, g.Gear, g.Ratio.Number, g.Shift, whole, Lengthwise, sense, "gear")
}

func (m *machine) reverseGear(p *Part, in string, axis Axis, whole bool) {
	r := p.ReverseGear
	v := m.choose(p, "", p.name(), SelectorOption{Value: "ahead", Words: "ahead"}, SelectorOption{Value: "neutral", Words: "neutral"}, SelectorOption{Value: "astern", Words: "astern"})
	out := m.add(p, "out", "output flange of the "+say.Small(p.name()), axis)
	m.outs[p.ID] = out
	ahead, astern := network.Internal, network.External
	if r.Opposite {
		ahead, astern = astern, ahead
	}
	if whole && v == "ahead" {
		m.gears(p, "ahead", "ahead", in, out, 0, 0, r.Ahead.Number, ahead, "reduction ahead")
	}
	if whole && v == "astern" {
		m.gears(p, "astern", "astern", in, out, 0, 0, r.Astern.Number, astern, "reduction astern: direction reversed")
	}
}
