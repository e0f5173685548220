package driveline

import (
	"fmt"
	"slices"

	"zorvel/core/driveline/network"
	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/say"
)

// TransferCase feeds a rear and a front output.
type TransferCase struct {
	plain
	Range        Range  `json:"range"`
	Center       Center `json:"center"`
	Front        Front  `json:"front"`
	LowNeedsLock bool   `json:"low_needs_lock,omitempty"`
}

// Range is the two-range part of a transfer case.
type Range struct {
	Type     string       `json:"type"` // none, ratio, planetary, gears
	Low      exact.Figure `json:"low,omitzero"`
	High     exact.Figure `json:"high,omitzero"` // 1 if left out
	Sun      int          `json:"sun,omitempty"`
	Ring     int          `json:"ring,omitempty"`
	Input    int          `json:"input,omitempty"`   // gears: input gear
	Counter  int          `json:"counter,omitempty"` // its mate on the cluster
	LowDrive int          `json:"low_drive,omitempty"`
	LowGear  int          `json:"low_gear,omitempty"`
}

// What a center's lock joins.
const (
	LockCarrier = "carrier"
	LockOutputs = "outputs"
)

// Center says how a transfer case shares between rear and front.
type Center struct {
	// Type: part_time (front engaged by hand), open, limited_slip, planetary
	// (ring to one output, sun to the other), or solid (always locked).
	Type     string `json:"type"`
	Lockable bool   `json:"lockable,omitempty"`
	// LockJoins is what the lock joins: carrier (with the rear output, if empty)
	// or outputs. Whole it is the same; with the center's gears broken only a lock
	// at the carrier still drives.
	LockJoins string `json:"lock_joins,omitempty"`
	// RearOnly adds a position in which only the rear is driven: the front
	// drive is let go and the center turns as one, its planets at rest.
	RearOnly bool `json:"rear_only,omitempty"`
	LimitedSlip
	Ring   int    `json:"ring,omitempty"`
	Sun    int    `json:"sun,omitempty"`
	RingTo string `json:"ring_to,omitempty"` // rear (default) or front
}

// Front is how the front output is reached.
type Front struct {
	Type   string       `json:"type"` // none, chain, gears, ratio
	Drive  int          `json:"drive,omitempty"`
	Driven int          `json:"driven,omitempty"`
	Idlers int          `json:"idlers,omitempty"`
	Ratio  exact.Figure `json:"ratio,omitzero"` // negative reverses
}

func (t *TransferCase) check(_ *Part, at string, errs *fault.Errors) {
	oneOf(errs, at+"range/type", &t.Range.Type, "none", "ratio", "planetary", "gears")
	pair(errs, at+"range/", "sun", "ring", t.Range.Sun, t.Range.Ring)
	if t.Range.Ring > 0 && t.Range.Ring <= t.Range.Sun {
		errs.Add(at+"range/ring", "the ring gear has more teeth than the sun: it goes around it")
	}
	pair(errs, at+"range/", "input", "counter", t.Range.Input, t.Range.Counter)
	pair(errs, at+"range/", "low_drive", "low_gear", t.Range.LowDrive, t.Range.LowGear)
	ratioRange(errs, at+"range/low", t.Range.Low, false)
	ratioRange(errs, at+"range/high", t.Range.High, false)
	oneOf(errs, at+"center/type", &t.Center.Type, "part_time", "open", "limited_slip", "planetary", "solid")
	pair(errs, at+"center/", "ring", "sun", t.Center.Ring, t.Center.Sun)
	oneOf(errs, at+"center/ring_to", &t.Center.RingTo, "rear", "front")
	switch t.Center.LockJoins {
	case "", LockCarrier, LockOutputs:
	default:
		errs.Add(at+"center/lock_joins", "carrier (with the rear output) or outputs (with each other)")
	}
	t.Center.LimitedSlip.check(at+"center/", t.Center.Type, errs)
	if t.Center.RearOnly && (t.Center.Type == "part_time" || t.Center.Type == "solid") {
		errs.Add(at+"center/rear_only", "a part-time case has that position anyway, and one that is always locked can't have it")
	}
	if t.Center.RearOnly && t.Front.Type == "none" {
		errs.Add(at+"center/rear_only", "there is no front output to disconnect")
	}
	oneOf(errs, at+"front/type", &t.Front.Type, "chain", "gears", "ratio", "none")
	pair(errs, at+"front/", "drive", "driven", t.Front.Drive, t.Front.Driven)
	ratioRange(errs, at+"front/ratio", t.Front.Ratio, true)
	idlers(errs, at+"front/", t.Front.Idlers)
	if t.LowNeedsLock && t.Range.Type == "none" {
		errs.Add(at+"low_needs_lock", "this case has no low range")
	}
}

func (t *TransferCase) ports() []string {
	if t.Front.Type == "none" {
		return []string{"rear"}
	}
	return []string{"rear", "front"}
}

func (t *TransferCase) ratios() []string {
	out := []string{}
	if t.Range.Type != "none" {
		out = append(out, "low")
	}
	if t.Front.Type != "none" {
		out = append(out, "front")
	}
	return out
}

func (t *TransferCase) known(ratio string) bool {
	if ratio == "front" {
		_, ok := t.Front.ratio()
		return ok
	}
	_, ok := t.Range.ratio(ratio)
	return ok
}

func (t *TransferCase) asks() []measure {
	out := []measure{{ratio: "high", words: "high range"}}
	if t.Range.Type != "none" {
		out = append(out, measure{ratio: "low", words: "low range"})
	}
	if t.Front.Type != "none" {
		out = append(out, measure{ratio: "front", words: "front to rear"})
	}
	for i := range out {
		out[i].kind, out[i].position = "transfer_case", out[i].ratio
	}
	return out
}

func (t *TransferCase) take(p *Part, name string, m Measured) {
	c, z, fig := *t, m.Teeth, exact.Figure{Number: m.Ratio}
	switch name {
	case "high":
		c.Range.High = fig
	case "low":
		high := c.Range.High
		switch m.Construction {
		case "planetary":
			c.Range = Range{Type: "planetary", Sun: z["sun"], Ring: z["ring"]}
		case "cluster":
			c.Range = Range{Type: "gears", Input: z["input"], Counter: z["counter"], LowDrive: z["cluster"], LowGear: z["output"]}
		default:
			c.Range = Range{Type: "ratio", Low: fig}
		}
		c.Range.High = high
	case "front":
		c.Front.Ratio = exact.Figure{}
		switch {
		case m.Construction == "chain":
			c.Front = Front{Type: "chain", Drive: z["drive"], Driven: z["driven"]}
		case m.Construction == "direct":
			c.Front.Drive, c.Front.Driven, c.Front.Ratio = 0, 0, fig
		default:
			c.Front.Drive, c.Front.Driven = z["drive"], z["driven"]
		}
	}
	p.TransferCase = &c
}

func (t *TransferCase) blank(p *Part) {
	c := *t
	c.Range = Range{Type: t.Range.Type}
	c.Center.Ring, c.Center.Sun = 0, 0
	c.Front = Front{Type: t.Front.Type, Idlers: t.Front.Idlers}
	p.TransferCase = &c
}

func (t *TransferCase) expand(m *Machine, p *Part, in string, _ Axis, whole bool) {
	// The center is asked first, so that the interlock can name it.
	center := ""
	locked := t.Center.Type == "solid"
	switch {
	case t.Center.Type == "part_time":
		center = m.choose(p, RoleLock, "center", Lever(p, "drive"),
			SelectorOption{Value: "two_wheel", Words: "2WD"}, SelectorOption{Value: "locked", Words: "4WD"})
		locked = center == "locked"
	case t.Center.Type != "solid" && (t.Center.Lockable || t.Center.RearOnly):
		options := []SelectorOption{{Value: "open", Words: "center open"}}
		name := "center lock"
		if t.Center.RearOnly {
			options = []SelectorOption{{Value: "two_wheel", Words: "2WD"}, {Value: "open", Words: "4WD, center open"}}
			name = "drive"
		}
		if t.Center.Lockable {
			options = append(options, SelectorOption{Value: "locked", Words: "center locked"})
		}
		center = m.choose(p, RoleLock, "center", Lever(p, name), options...)
		locked = center == "locked"
	}
	mid := m.transferRange(p, in, whole, t.Center.Type == "part_time" || t.Center.Lockable)
	rear := m.add(p, "rear", "rear output", Lengthwise)
	m.Outs[p.ID+".rear"] = rear
	front := ""
	if t.Front.Type != "none" {
		front = m.add(p, "front drive", "front drive inside the "+say.Small(p.Called()), Lengthwise)
	}
	drive := front // behind what can let the front go
	if front != "" && t.Center.RearOnly {
		m.couple(p, network.Lock, "rear only", mid, rear, center == "two_wheel" && whole, "rear only: the center turns as one, its planets at rest")
		front = m.add(p, "center front", "front side of the center in the "+say.Small(p.Called()), Lengthwise)
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
		m.Prefer = append(m.Prefer, network.Preference{A: front, B: rear})
		t.lock(m, p, mid, rear, front, locked && whole)
	default:
		m.split(p, "center", rear, front, mid)
		t.lock(m, p, mid, rear, front, locked && whole)
	}
	if front == "" {
		return
	}
	out := m.add(p, "front", "front output", Lengthwise)
	m.Outs[p.ID+".front"] = out
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

// lock joins what the center's lock joins: the carrier with the rear output, so that
// it drives on though the center's gears are gone, or the two outputs.
func (t *TransferCase) lock(m *Machine, p *Part, carrier, rear, front string, on bool) {
	other := carrier
	if t.Center.LockJoins == LockOutputs {
		other = front
	}
	m.couple(p, network.Lock, "lock", rear, other, on, "center locked")
}

// transferRange adds the range part and returns the shaft behind it.
func (m *Machine) transferRange(p *Part, in string, whole, lockable bool) string {
	t := p.TransferCase
	if t.Range.Type == "none" {
		return in
	}
	var needs []Need
	if t.LowNeedsLock && lockable {
		needs = []Need{{p.ID + ".center", "locked"}}
	}
	v := m.choose(p, RoleRange, "range", Lever(p, "range"), rangeOptions(needs)...)
	high, low := v == "high" && whole, v == "low" && whole
	mid := m.add(p, "main", Of(p, "main shaft"), Lengthwise)
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
		carrier := m.add(p, "carrier", Of(p, "planet carrier"), Lengthwise)
		ring := m.add(p, "ring", Of(p, "ring gear"), Lengthwise)
		m.Element(p, network.Element{ID: p.ID + ".ring held", Kind: network.Holder, Shaft: ring}, Joint{Words: "ring held by the housing"})
		m.planets(p, "low set", "low", in, ring, carrier, r.Sun, r.Ring, false, fmt.Sprintf("planetary low: sun %s driven, ring %s held", count(r.Sun), count(r.Ring)))
		m.couple(p, network.Coupling, "low", carrier, mid, low, "low range: the carrier drives on")
	case "gears":
		cluster := m.add(p, "cluster", Of(p, "cluster"), Lengthwise)
		gear := m.add(p, "low gear", Of(p, "low gear"), Lengthwise)
		m.gears(p, "cluster drive", "low", in, cluster, r.Input, r.Counter, exact.Number{}, network.External, pairWords("cluster gear", r.Counter, "input gear", r.Input, "always in mesh"))
		m.gears(p, "low gears", "low", cluster, gear, r.LowDrive, r.LowGear, exact.Number{}, network.External, pairWords("low gear", r.LowGear, "cluster gear", r.LowDrive, ""))
		m.couple(p, network.Coupling, "low", gear, mid, low, "low range: the low gear drives on")
	}
	return mid
}

func (t *TransferCase) traits() Traits {
	return Traits{Axis: Lengthwise, OtherGears: true, Bearings: []string{"main", "cluster"}, PumpedByInput: true,
		Speedometer: "main", ForSpeedo: 2, TakeOffs: [][2]string{{"main", ", rear output shaft"}}}
}

func (t *TransferCase) has(*Part) []Feature {
	out := []Feature{Geared, Cased, OutputSeals, Splined, DogsInside, MovedDogs}
	c := t.Center
	if c.Type == "limited_slip" {
		out = append(out, Plates)
	}
	if t.Front.Type == "chain" {
		out = append(out, Chained)
	}
	if c.Lockable || c.Type == "part_time" || c.Type == "solid" {
		out = append(out, Joins)
	}
	if t.Range.Type != "none" || c.Lockable || c.Type == "part_time" {
		out = append(out, Actuated)
	}
	if t.Range.Type == "gears" {
		out = append(out, OneWayGears)
	}
	return out
}

// ratio of the range: input turns per main shaft turn.
func (r *Range) ratio(position string) (exact.Number, bool) {
	switch {
	case r.Type == "none":
		return one, true
	case position == "high":
		if r.High.IsZero() {
			return one, true
		}
		return r.High.Number, true
	case position != "low":
		return one, false
	}
	switch r.Type {
	case "planetary":
		if r.Sun == 0 {
			return one, false
		}
		return one.Add(exact.New(int64(r.Ring), int64(r.Sun))), true
	case "gears":
		a, ok1 := teethRatio(r.Input, r.Counter, exact.Number{})
		b, ok2 := teethRatio(r.LowDrive, r.LowGear, exact.Number{})
		return a.Mul(b), ok1 && ok2
	}
	return r.Low.Number, !r.Low.IsZero()
}

// ratio is turns of the front drive per turn of the front output, unsigned.
func (f *Front) ratio() (exact.Number, bool) {
	r, ok := teethRatio(f.Drive, f.Driven, f.Ratio.Number)
	return r.Abs(), ok
}

// LowRatio is the low range of a transfer case.
func (p *Part) LowRatio() (exact.Number, bool) {
	if p.TransferCase == nil || p.TransferCase.Range.Type == "none" {
		return one, false
	}
	return p.TransferCase.Range.ratio("low")
}

func (t *TransferCase) passes(at func(string) string) Passed {
	r, known := t.Range.ratio(at("range"))
	neutral := at("range") == "N"
	return Passed{Ratio: r, Known: known || neutral, Open: neutral}
}

func (t *TransferCase) shares(at func(string) string) *Split {
	s := &Split{Branches: []Branch{branch("rear")}}
	if t.Front.Type == "none" || at("center") == "two_wheel" {
		return s
	}
	r, known := t.Front.ratio()
	s.Branches = append(s.Branches, Branch{Port: "front", Ratio: r, Known: known, Words: "front drive"})
	if t.Center.Type == "solid" || at("center") == "locked" {
		return s
	}
	s.Share = evenly
	switch {
	case t.Center.Type == "limited_slip":
		s.Limited = &t.Center.LimitedSlip
	case t.Center.Type == "planetary" && t.Center.Ring > 0:
		s.Share = []exact.Number{exact.Int(int64(t.Center.Ring)), exact.Int(int64(t.Center.Sun))}
		if t.Center.RingTo == "front" {
			slices.Reverse(s.Share)
		}
	}
	return s
}

// sides: the rear output alone, as it turns with the front let go or locked.
func (t *TransferCase) sides() []Side { return []Side{{"rear", one}} }

func (t *TransferCase) between() *Between {
	if t.Front.Type == "none" {
		return nil
	}
	b := &Between{Type: t.Center.Type, First: "rear", Second: "front", Ends: "front and rear",
		Words: "front drive of the case", Missing: "front drive"}
	b.Drive, b.Known = t.Front.ratio()
	return b
}

func (t *TransferCase) speeds() Speeds {
	out := Speeds{Selector: "range", Shaft: "main"}
	if t.Range.Type == "none" {
		return out
	}
	for _, at := range []string{"high", "low"} {
		if r, ok := t.Range.ratio(at); ok {
			out.List = append(out.List, Speed{at, "dog", r})
		}
	}
	return out
}

func (t *TransferCase) adopt(p *Part, f Former) bool {
	if f.Kind != "transfer_case" {
		return false
	}
	p.Name = "Transfer case"
	t.Range.Type, t.Center.Type, t.Front.Type = "planetary", "part_time", "chain"
	return true
}

// join: the ranges and the front output of one case were stages of their own.
func (t *TransferCase) join(p *Part, f Former) (string, bool) {
	ratio := fits(p, f)
	return ratio, ratio != "" && f.Kind == "transfer_case"
}

// withoutFront takes the front drive off a case that also drives the rear.
func (t *TransferCase) withoutFront() {
	t.Front = Front{Type: "none"}
	t.Center = Center{Type: "part_time"}
	t.LowNeedsLock = false
}

func (t *TransferCase) remarks(_ *Solved, p *Part, add adder) {
	planetChecks(p, t.Range.Sun, t.Range.Ring, 0, 0, false, add)
	if t.Center.Type != "planetary" || t.Center.Sun == 0 {
		return
	}
	ringTo, sunTo := t.Center.RingTo, "front"
	if ringTo == "front" {
		sunTo = "rear"
	}
	total := exact.Int(int64(t.Center.Ring + t.Center.Sun))
	share := exact.Int(int64(t.Center.Ring)).Div(total).Mul(exact.Int(100))
	add("fact", p, "The center differential of the %s gives the %s %s %% and the %s %s %% of the torque (ring %d and sun %d of %d teeth). "+
		"If it slips, the %s, with the smaller share, spins up fastest.",
		say.Small(p.Called()), ringTo, share.Short(1), sunTo, exact.Int(100).Sub(share).Short(1),
		t.Center.Ring, t.Center.Sun, t.Center.Ring+t.Center.Sun, sunTo)
}

// trials lock the case in each range, and hold an output of one with a center
// differential.
func (t *TransferCase) trials(s *Stands, p *Part) []Trial {
	if t.Front.Type == "none" {
		return nil
	}
	name := say.Small(p.Called())
	in := s.base.InputOf(p)
	hasCenter, hasRange := s.base.Selector(p.ID+".center") != nil, s.base.Selector(p.ID+".range") != nil
	stage := "All wheels off the ground, on jack stands; gearbox in neutral."
	if s.doc.Lies == Bench {
		stage = "The case on the bench, held."
	}
	turn := fmt.Sprintf("Turn the %s 10 turns.", s.base.ByID[in].Name)
	var out []Trial
	for _, rng := range []string{"high", "low"} {
		set := map[string]string{}
		if hasCenter {
			set[p.ID+".center"] = "locked"
		}
		if hasRange {
			set[p.ID+".range"] = rng
		} else if rng == "low" {
			continue
		}
		out = append(out, Trial{
			Title: fmt.Sprintf("%s, %s, locked", say.Capital(name), rng),
			Setup: []string{stage, "Range " + rng + ", center or front drive locked in."},
			Turn:  turn,
			Tells: "Both outputs turn, and the same way. If one stays still, the lock, its chain or its shaft is at fault; " +
				"if nothing turns, the range is not engaged.",
			State: State{Input: turned(in, 10), Select: s.with(set), Wheels: s.lift, Engine: "free"},
			Watch: []string{p.ID + ".rear", p.ID + ".front"},
		})
	}
	if hasCenter && t.Center.Type != "part_time" {
		out = append(out, Trial{
			Title: Lever(p, "center differential"), Setup: []string{stage, "Center open; hold the rear output."}, Turn: turn,
			Tells: "The free output makes up for the held one. No drive until the center lock is engaged points to the " +
				"center differential's gears or the shaft beyond.",
			State: State{Input: turned(in, 10), Select: s.with(map[string]string{p.ID + ".center": "open"}), Wheels: s.lift,
				Hold: []string{p.ID + ".rear"}, Engine: "free"},
			Watch: []string{p.ID + ".front", p.ID + ".rear"},
		})
	}
	return out
}

func (t *TransferCase) wear(_ *Document, p *Part) []Wear {
	name := say.Small(p.Called())
	out := []Wear{{"output_seal", "leaking " + name + " output seal"}, {"oil", "too little oil in the " + name},
		{"breather", "water past the " + name + " breather"}, {"mesh_wear", "worn " + name + " gears"},
		{"spline_wear", "worn " + name + " output splines"}}
	if c := t.Center.Type; c == "open" || c == "limited_slip" || c == "planetary" {
		out = append(out, Wear{"side_wear", "worn " + name + " center differential"})
	}
	return out
}
