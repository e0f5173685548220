package identify

import (
	"errors"
	"strings"
	"testing"

	"zorvel/core/exact"
	"zorvel/core/ratio"
)

// Worked by hand from the Willis equation.
func TestPlanetaryRatio(t *testing.T) {
	cases := []struct {
		sun, ring   int
		held, input Member
		want        exact.Number
	}{
		{30, 60, Ring, Sun, exact.New(3, 1)},
		{32, 56, Ring, Sun, exact.New(11, 4)}, // 1 + 56/32 = 2.75
		{30, 60, Ring, Carrier, exact.New(1, 3)},
		{30, 60, Sun, Ring, exact.New(3, 2)},
		{30, 60, Sun, Carrier, exact.New(2, 3)},
		{30, 60, Carrier, Sun, exact.New(-2, 1)},
		{30, 60, Carrier, Ring, exact.New(-1, 2)},
	}
	for _, c := range cases {
		got, err := PlanetaryRatio(c.sun, c.ring, c.held, c.input)
		if err != nil || got != c.want {
			t.Errorf("sun %d ring %d, %s held, %s driven: %v, %v; want %v", c.sun, c.ring, c.held, c.input, got, err, c.want)
		}
	}
	if _, err := PlanetaryRatio(30, 60, Ring, Ring); err == nil {
		t.Error("the held member can't be driven")
	}
	if _, err := PlanetaryRatio(0, 60, Ring, Sun); !errors.Is(err, ratio.ErrZero) {
		t.Errorf("no sun teeth: %v", err)
	}
}

func construction(t *testing.T, s Stage, id string) Construction {
	t.Helper()
	cons, err := s.Constructions()
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range cons {
		if c.ID == id {
			return c
		}
	}
	t.Fatalf("%v has no construction %s", s, id)
	return Construction{}
}

func TestRatiosOfConstructions(t *testing.T) {
	cases := []struct {
		stage Stage
		con   string
		teeth []int
		want  exact.Number
	}{
		{Stage{Kind: RingAndPinion}, "pair", []int{47, 9}, exact.New(47, 9)},
		{Stage{Kind: TwoStage}, "pair_planetary", []int{32, 20, 32, 56}, exact.New(22, 5)}, // 1.6 × 2.75
		{Stage{Kind: TwoStage}, "pair_pair", []int{32, 20, 44, 16}, exact.New(22, 5)},
		{Stage{Kind: Gearbox, Position: "2"}, "cluster", []int{20, 40, 25, 35}, exact.New(14, 5)}, // 2 × 1.4
		{Stage{Kind: TransferCase, Position: "high"}, "direct", nil, exact.Int(1)},
		{Stage{Kind: Gearcase}, "pair", []int{27, 13}, exact.New(27, 13)},
		{Stage{Kind: ChainPair}, "chain", []int{45, 15}, exact.New(3, 1)},
		{Stage{Kind: Hub}, "planetary", []int{24, 60}, exact.New(7, 2)},
	}
	for _, c := range cases {
		con := construction(t, c.stage, c.con)
		got, err := con.ratioOf(c.stage, c.teeth)
		if err != nil || got != c.want {
			t.Errorf("%s %s %v: %v, %v; want %v", c.stage.Kind, c.con, c.teeth, got, err, c.want)
		}
		if con.Formula(c.stage) == "" {
			t.Errorf("%s %s has no formula", c.stage.Kind, c.con)
		}
	}
}

func TestBuildChecksWarn(t *testing.T) {
	planetary := Stage{Kind: Planetary}
	cases := []struct {
		name            string
		stage           Stage
		con             string
		teeth           []int
		planets, planet int
		want            []string
	}{
		{"no whole planet", planetary, "planetary", []int{25, 60}, 0, 0, []string{"no whole planet gear"}},
		{"sound set", planetary, "planetary", []int{30, 60}, 3, 15, nil},
		{"planets don't share", planetary, "planetary", []int{30, 64}, 4, 17, []string{"can't be shared by 4"}},
		{"another planet", planetary, "planetary", []int{30, 60}, 3, 16, []string{"planets of 15 teeth, 16 were counted"}},
		{"small pinion", Stage{Kind: RingAndPinion}, "pair", []int{41, 4}, 0, 0, []string{"4 teeth is unusual", "ratio of 10.25 is unusual"}},
		{"centers differ", Stage{Kind: Gearbox, Position: "3"}, "cluster", []int{20, 40, 25, 45}, 0, 0, []string{"60 teeth together", ""}},
		{"usual axle", Stage{Kind: RingAndPinion}, "pair", []int{41, 10}, 0, 0, nil},
	}
	for _, c := range cases {
		got := c.stage.BuildChecks(construction(t, c.stage, c.con), c.teeth, c.planets, c.planet)
		if (len(got) == 0) != (len(c.want) == 0) {
			t.Errorf("%s: %v", c.name, got)
			continue
		}
		for i, w := range c.want {
			if i < len(got) && !strings.Contains(got[i].Message, w) {
				t.Errorf("%s: %q lacks %q", c.name, got[i].Message, w)
			}
		}
	}
}

func TestQuestionsThatCantBe(t *testing.T) {
	cases := []struct {
		stage Stage
		field string
	}{
		{Stage{Kind: "sprocket"}, "stage/kind"},
		{Stage{Kind: TransferCase}, "stage/position"},
		{Stage{Kind: TransferCase, Position: "sideways"}, "stage/position"},
		{Stage{Kind: Gearbox}, "stage/position"},
		{Stage{Kind: Planetary, Held: "spider"}, "stage/held"},
		{Stage{Kind: Planetary, Input: "spider"}, "stage/input"},
		{Stage{Kind: Planetary, Held: Sun, Input: Sun}, "stage/input"},
	}
	for _, c := range cases {
		_, err := NewSpace(c.stage)
		var e *Error
		if !errors.As(err, &e) || e.Field != c.field {
			t.Errorf("%+v: %v; want a fault at %s", c.stage, err, c.field)
		}
	}
}

// Stages that ask the same share one space.
func TestNormalStage(t *testing.T) {
	if (Stage{Kind: Gearbox, Position: "2"}).Normal() != (Stage{Kind: Gearbox, Position: "R"}).Normal() {
		t.Error("gears of one gearbox have the same builds")
	}
	if (Stage{Kind: TransferCase, Position: "low"}).Normal() == (Stage{Kind: TransferCase, Position: "high"}).Normal() {
		t.Error("high and low differ")
	}
	if (Stage{Kind: Planetary}).Normal() != (Stage{Kind: Planetary, Held: Ring, Input: Sun}).Normal() {
		t.Error("ring held, sun driven is the default")
	}
}

func TestEverySpaceIsAPrior(t *testing.T) {
	for _, k := range Kinds() {
		for _, pos := range []string{"high", "low", "front", "1"} {
			s := Stage{Kind: k, Position: pos}
			sp, err := NewSpace(s)
			if err != nil {
				continue // a position this kind doesn't have
			}
			sum, last := 0.0, 0.0
			for i := range sp.hyps {
				h := &sp.hyps[i]
				sum += h.prior
				if h.r < last {
					t.Fatalf("%s %s: not sorted by ratio", k, pos)
				}
				last = h.r
			}
			if sum < 1-1e-9 || sum > 1+1e-9 {
				t.Errorf("%s %s: prior sums to %v", k, pos, sum)
			}
		}
	}
}
