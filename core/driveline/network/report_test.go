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
	if s := got["ring"]; s.State != Still || s.Torque.String() != "4" {
		t.Errorf("the held ring's torque %+v, want 4", s)
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
	if q := answer(t, n, false)["b"].Torque.String(); q != "3" {
		t.Errorf("lossless %s", q)
	}
	if q := answer(t, n, true)["b"].Torque.String(); q != "27/10" {
		t.Errorf("with losses %s", q)
	}
	// A drive turning backward pushes backward: the same multiples.
	back := drive("a")
	back.Speed = exact.Int(-2)
	if s := answer(t, Network{strings.Fields("a b"), []Element{m, back, load("b")}}, false)["b"]; s.Speed.String() != "2/3" || s.Torque.String() != "3" {
		t.Errorf("%+v", s)
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
