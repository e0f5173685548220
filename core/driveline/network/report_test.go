package network

import (
	"encoding/json"
	"strings"
	"testing"

	"zorvel/core/exact"
)

func answer(t *testing.T, n Network, losses bool) map[string]ShaftReport {
	t.Helper()
	r, err := Answer(n, losses)
	if err != nil {
		t.Fatal(err)
	}
	out := map[string]ShaftReport{}
	for _, s := range r.Shafts {
		out[s.Shaft] = s
	}
	return out
}

// What a textbook's reader gets: speeds in the units of the drive, torques per
// unit at it, and which shafts are tied together where nothing decides.
func TestAnswer(t *testing.T) {
	set := planets("set", "sun", "ring", "arm", 20, 80, false)
	in := drive("sun")
	in.Speed = exact.Int(100)
	got := answer(t, Network{strings.Fields("sun ring arm"), []Element{set, hold("ring"), in, load("arm")}}, false)
	if s := got["arm"]; s.State != Driven || s.Speed.String() != "20" || s.Torque.String() != "5" {
		t.Errorf("%+v", s)
	}
	if s := got["ring"]; s.State != Still || s.Torque.String() != "-4" {
		t.Errorf("the torque on what holds the ring %+v, want -4: 1 = 5 + (-4)", s)
	}
	// Two inputs: sun 100, ring 25: arm = (20·100 + 80·25)/100 = 40.
	other := Element{ID: "in2", Kind: Drive, Shaft: "ring", Speed: exact.Int(25)}
	got = answer(t, Network{strings.Fields("sun ring arm"), []Element{set, other, in, load("arm")}}, false)
	if s := got["arm"]; s.Speed.String() != "40" {
		t.Errorf("%+v", s)
	}
	// Nothing held: ring and arm are free, tied to each other.
	got = answer(t, Network{strings.Fields("sun ring arm"), []Element{set, in}}, false)
	if s := got["arm"]; s.State != Free || s.Speed != nil || len(s.Tied) != 1 || s.Tied[0] != "ring" {
		t.Errorf("%+v", s)
	}
	// Losses on request only.
	m := mesh("m", "a", "b", 20, 60, External)
	m.Efficiency = exact.New(9, 10)
	n := Network{strings.Fields("a b"), []Element{m, drive("a"), load("b")}}
	if q := answer(t, n, false)["b"].Torque.String(); q != "-3" {
		t.Errorf("lossless %s", q)
	}
	if q := answer(t, n, true)["b"].Torque.String(); q != "-27/10" {
		t.Errorf("with losses %s", q)
	}
	// A drive turning backward pushes backward: the same multiples.
	back := drive("a")
	back.Speed = exact.Int(-2)
	if s := answer(t, Network{strings.Fields("a b"), []Element{m, back, load("b")}}, false)["b"]; s.Speed.String() != "2/3" || s.Torque.String() != "3" {
		t.Errorf("%+v", s)
	}
}

// Two outputs that pull opposite ways have opposite signs.
func TestTorquesHaveSigns(t *testing.T) {
	n := Network{strings.Fields("in ahead astern"), []Element{
		{ID: "center", Kind: Differential, Left: "l", Right: "r", Carrier: "in"},
		mesh("f", "l", "ahead", 10, 30, Same), mesh("b", "r", "astern", 10, 30, Opposite), drive("in"), load("ahead"), load("astern"),
	}}
	n.Shafts = append(n.Shafts, "l", "r")
	got := answer(t, n, false)
	if a, b := got["ahead"].Torque.String(), got["astern"].Torque.String(); a != "3/2" || b != "-3/2" {
		t.Errorf("ahead %s, astern %s", a, b)
	}
}

// A network that isn't held down says how much can be chosen, and what its
// free shafts keep to.
func TestFreedomAndRelations(t *testing.T) {
	n := Network{strings.Fields("in left right tail"), []Element{
		{ID: "d", Kind: Differential, Left: "left", Right: "right", Carrier: "in"}, mesh("m", "right", "tail", 10, 20, External), drive("in"),
	}}
	r, err := Answer(n, false)
	if err != nil {
		t.Fatal(err)
	}
	// left + right = 2 and tail = −right/2: one speed can be chosen.
	if r.Freedom != 1 || len(r.Relations) != 2 {
		t.Fatalf("freedom %d, %+v", r.Freedom, r.Relations)
	}
	for _, rel := range r.Relations {
		for _, choice := range []int64{0, 1, 5, -3} {
			v := map[string]exact.Number{}
			for _, s := range r.Shafts {
				if s.State == Free {
					v[s.Shaft] = exact.Int(choice)
				}
			}
			for _, q := range r.Relations {
				x := q.Constant
				for _, term := range q.Terms {
					x = x.Add(term.Factor.Mul(exact.Int(choice)))
				}
				v[q.Shaft] = x
			}
			if sum := v["left"].Add(v["right"]); !sum.Equal(exact.Int(2)) || !v["tail"].Equal(v["right"].Div(exact.Int(-2))) {
				t.Errorf("%s with %d: %v", rel.Words, choice, v)
			}
		}
	}
	if r, _ := Answer(Network{[]string{"a", "b"}, []Element{mesh("m", "a", "b", 1, 1, External)}}, false); r.Freedom != 1 || len(r.Relations) != 1 || r.Relations[0].Words != "b = −a" && r.Relations[0].Words != "a = −b" {
		t.Errorf("two gears alone: %+v", r)
	}
	if r, _ := Answer(Network{[]string{"a", "b"}, []Element{mesh("m", "a", "b", 1, 1, External), drive("a")}}, false); r.Freedom != 0 || len(r.Relations) != 0 {
		t.Errorf("driven: %+v", r)
	}
}

// Two equal axles, each locked, in a corner: each binds for itself, and they
// don't bind against each other.
func TestNoIdleBind(t *testing.T) {
	var el []Element
	names := []string{"in"}
	for _, a := range []string{"1", "2"} {
		pin := "p" + a
		names = append(names, pin, "c"+a, "l"+a, "r"+a)
		el = append(el, mesh("m"+a, pin, "c"+a, 10, 41, Same), Element{ID: "d" + a, Kind: Differential, Left: "l" + a, Right: "r" + a, Carrier: "c" + a},
			Element{ID: "lock" + a, Kind: Lock, A: "l" + a, B: "c" + a},
			Element{ID: "wl" + a, Kind: Road, Shaft: "l" + a, Travel: exact.Int(2), Factor: exact.New(9, 10)}, Element{ID: "wr" + a, Kind: Road, Shaft: "r" + a, Travel: exact.Int(2), Factor: exact.New(11, 10)})
	}
	for _, locked := range []bool{false, true} {
		net := Network{names, append(el[:len(el):len(el)], Element{ID: "between", Kind: Differential, Left: "p1", Right: "p2", Carrier: "in"}, Element{ID: "between lock", Kind: Lock, A: "p1", B: "p2", Open: !locked}, drive("in"))}
		_, m := solve(t, net)
		if len(m.Binds) != 2 {
			t.Errorf("between locked %v: %d binds", locked, len(m.Binds))
		}
		for _, b := range m.Binds {
			if b.Mismatch.IsZero() {
				t.Errorf("a bind of nothing: %+v", b)
			}
		}
	}
}

func TestAnswerNamesItsBinds(t *testing.T) {
	n := Network{strings.Fields("in rc rl rr fin fc fl fr"), append(append(axle("r", 41, "in", false, "", ""), axle("f", 37, "fin", false, "", "")...),
		Element{ID: "center", Kind: Lock, A: "in", B: "fin"}, drive("in"))}
	r, err := Answer(n, false)
	if err != nil {
		t.Fatal(err)
	}
	if len(r.Binds) != 1 || r.Binds[0].Cut != "center" || r.Binds[0].Mismatch.String() != "-4/41" || len(r.Binds[0].Shafts) != 9 {
		t.Errorf("%+v", r.Binds)
	}
	b, err := json.Marshal(r)
	if err != nil || !strings.Contains(string(b), `"mismatch":{"num":-4,"den":41,"decimal":-0.097561,"label":"-0.10"}`) {
		t.Errorf("%s %v", b, err)
	}
	if _, err := Answer(Network{Shafts: []string{"a"}, Elements: []Element{{ID: "x", Kind: "y"}}}, false); err == nil {
		t.Error("an unknown kind was solved")
	}
}

// Three axles locked together over the road, all geared apart: two loops, each
// with its own mismatch.
func TestTwoLoops(t *testing.T) {
	el := append(axle("r", 41, "in", false, "", ""), axle("f", 42, "fin", false, "", "")...)
	el = append(el, axle("t", 43, "tin", false, "", "")...)
	el = append(el, Element{ID: "lock f", Kind: Lock, A: "in", B: "fin"}, Element{ID: "lock t", Kind: Lock, A: "in", B: "tin"}, drive("in"))
	n := Network{strings.Fields("in rc rl rr fin fc fl fr tin tc tl tr"), el}
	c, m := solve(t, n)
	if len(m.Binds) != 2 {
		t.Fatalf("%d binds", len(m.Binds))
	}
	got := map[string]string{}
	for _, b := range m.Binds {
		got[n.Elements[b.Cut].ID] = b.Mismatch.String()
	}
	if got["lock f"] != "1/41" || got["lock t"] != "2/41" {
		t.Errorf("%v", got)
	}
	if m.Speed[c.Shaft("rl")].String() != "10/41" {
		t.Errorf("the rear wheel turns %v", m.Speed[c.Shaft("rl")])
	}
}
