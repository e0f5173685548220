package tire

import (
	"errors"
	"math"
	"strings"
	"testing"

	"zorvel/core/exact"
	"zorvel/core/fault"
)

func mm(s string) exact.Number {
	n, err := exact.Parse(s)
	if err != nil {
		panic(err)
	}
	return n
}

func fig(s string) exact.Figure { return exact.Figure{Number: mm(s)} }

// Diameters by hand: rim · 25.4 + 2 · width · aspect, or as marked.
func TestParse(t *testing.T) {
	cases := []struct {
		in       string
		written  string
		system   System
		width    string
		diameter string
		build    Construction
		load     string
		speed    string
	}{
		{"P225/75R16", "P225/75R16", Metric, "225", "743.9", Radial, "", ""},
		{"  lt 245/75 r16  120/116S ", "LT245/75R16", Metric, "245", "773.9", Radial, "120/116", "S"},
		{"225/75R16C 118/116R", "225/75R16C", Metric, "225", "743.9", Radial, "118/116", "R"},
		{"225/75R 16 C 118", "225/75R16C", Metric, "225", "743.9", Radial, "118", ""},
		{"205/55ZR16 91W", "205/55R16", Metric, "205", "631.9", Radial, "91", "W"},
		{"185/65R15 88T XL", "185/65R15", Metric, "185", "621.5", Radial, "88", "T"},
		{"225 75 16", "225/75R16", Metric, "225", "743.9", Radial, "", ""},
		{"225/75/16", "225/75R16", Metric, "225", "743.9", Radial, "", ""},
		{"T125/70D16", "T125/70D16", Metric, "125", "581.4", Bias, "", ""},
		{"220/55R390", "220/55R390", Metric, "220", "632", Radial, "", ""},
		{"31x10.50R15", "31x10.50R15", Flotation, "266.7", "787.4", Radial, "", ""},
		{"31X10.50R15LT", "31x10.50R15LT", Flotation, "266.7", "787.4", Radial, "", ""},
		{"31×10,50 r 15", "31x10.50R15", Flotation, "266.7", "787.4", Radial, "", ""},
		{"31\" * 10.5\" - 15\"", "31x10.50-15", Flotation, "266.7", "787.4", Bias, "", ""},
		{"LT31x10.50R15 C", "31x10.50R15LT", Flotation, "266.7", "787.4", Radial, "range C", ""},
		{"35X12.50R17LT 121Q", "35x12.50R17LT", Flotation, "317.5", "889", Radial, "121", "Q"},
		{"26.0/10.0-15", "26.0/10.0-15", Racing, "254", "660.4", Bias, "", ""},
		{"26/8.5R13", "26.0/8.5R13", Racing, "215.9", "660.4", Radial, "", ""},
		{"245/645R18", "245/645R18", MetricDiameter, "245", "645", Radial, "", ""},
		{"245 / 645 - 18", "245/645-18", MetricDiameter, "245", "645", Bias, "", ""},
		// Estimated: 406.4 + 2·190.5·1.04; 571.5 + 2·279.4·0.87; 381 + 2·195·0.8.
		{"7.50-16", "7.50-16", Numeric, "190.5", "802.64", Bias, "", ""},
		{"7,50 R 16 LT 8PR", "7.50R16LT", Numeric, "190.5", "802.64", Radial, "8 PR", ""},
		{"6.00x16", "6.00-16", Numeric, "152.4", "723.392", Bias, "", ""},
		{"11R22.5", "11R22.5", Commercial, "279.4", "1057.656", Radial, "", ""},
		{"11 r 22,5 148/145L", "11R22.5", Commercial, "279.4", "1057.656", Radial, "148/145", "L"},
		{"195R15C", "195R15C", MetricBare, "195", "693", Radial, "", ""},
		{"10.00-20 16PR", "10.00-20", Numeric, "254", "1036.32", Bias, "16 PR", ""},
		{"7.50-16 116N", "7.50-16", Numeric, "190.5", "802.64", Bias, "116", "N"},
		{"9,00 - 20 140/137 J", "9.00-20", Numeric, "228.6", "983.488", Bias, "140/137", "J"},
		{"LT235/75R15/C", "LT235/75R15", Metric, "235", "733.5", Radial, "range C", ""},
		{"31x10.50R15/C", "31x10.50R15", Flotation, "266.7", "787.4", Radial, "range C", ""},
		{"31X10.50-15LT/C 109Q", "31x10.50-15LT", Flotation, "266.7", "787.4", Bias, "109", "Q"},
		{"lt315/70r17/d 121/118q", "LT315/70R17", Metric, "315", "872.8", Radial, "121/118", "Q"},
		{"225/75R16 116 S", "225/75R16", Metric, "225", "743.9", Radial, "116", "S"},
		{"165SR13", "165R13", MetricBare, "165", "594.2", Radial, "", ""},
		{"26-8.5-13", "26.0/8.5-13", Racing, "215.9", "660.4", Bias, "", ""},
		{"225-60 16C", "225/60R16C", Metric, "225", "676.4", Radial, "", ""},
		{"12.5/80-18 10PR", "12.5/80-18", Implement, "317.5", "965.2", Bias, "10 PR", ""},
	}
	for _, c := range cases {
		m, err := Parse(c.in)
		if err != nil {
			t.Errorf("%q: %v", c.in, err)
			continue
		}
		if m.Text != c.written || m.System != c.system || !m.WidthMM.Equal(mm(c.width)) || !m.DiameterMM.Equal(mm(c.diameter)) || m.Construction != c.build || m.Load != c.load || m.Speed != c.speed {
			t.Errorf("%q is %q %s %s wide %s across %s %q %q, want %+v", c.in, m.Text, m.System, m.WidthMM, m.DiameterMM, m.Construction, m.Load, m.Speed, c)
		}
		estimated := c.system == Numeric || c.system == Commercial || c.system == MetricBare
		if estimated != (m.Spread > 0) || (estimated && len(m.Notes) == 0) {
			t.Errorf("%q: estimated %v, spread %v, notes %v", c.in, estimated, m.Spread, m.Notes)
		}
		// What is written back is read the same.
		again, err := Parse(m.Text)
		if err != nil || !again.DiameterMM.Equal(m.DiameterMM) || again.Text != m.Text {
			t.Errorf("%q is written %q, which reads %v, %v", c.in, m.Text, again, err)
		}
	}
}

func TestParseRefuses(t *testing.T) {
	for in, want := range map[string]string{
		"":                         "225/75R16",
		"banana":                   "is no tire size",
		"225":                      "is no tire size",
		"225/75R99":                "a rim of 99",
		"50/75R16":                 "can't be",
		"225/300R16":               "aspect of 300",
		"31x10.50R40":              "not smaller than the tire",
		"9/9R9":                    "not smaller",
		"225/75R16 and more":       "isn't understood",
		"60-16":                    "width of 60",
		strings.Repeat("2", 80):    "at most 60",
		"225/75R16; DROP TABLE":    "isn't understood",
		"NaN/75R16":                "is no tire size",
		"-225/75R16":               "is no tire size",
		"999999999999/75R16":       "is no tire size",
		"245/645R18 <script>x</s>": "isn't understood",
	} {
		_, err := Parse(in)
		var f *fault.Error
		if !errors.As(err, &f) || f.Field != "marking" || !strings.Contains(f.Message, want) {
			t.Errorf("%q: %v, want %q at marking", in, err, want)
		}
	}
}

func FuzzParse(f *testing.F) {
	for _, s := range []string{"P225/75R16", "31x10.50R15", "26.0/10.0-15", "245/645R18", "7.50-16", "11R22.5", "195R15C", "lt 245/75 r16 120/116S", "31×10,50 r 15"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		m, err := Parse(s)
		if err != nil {
			var e *fault.Error
			if !errors.As(err, &e) {
				t.Fatalf("%q: %T", s, err)
			}
			return
		}
		if m.DiameterMM.Cmp(m.RimMM) <= 0 || m.WidthMM.Sign() <= 0 || m.Aspect.Sign() <= 0 {
			t.Fatalf("%q: %+v", s, m)
		}
		again, err := Parse(m.Text)
		if err != nil || !again.DiameterMM.Equal(m.DiameterMM) || !again.WidthMM.Equal(m.WidthMM) {
			t.Fatalf("%q is written %q, which reads %v %v", s, m.Text, again, err)
		}
	})
}

func TestWork(t *testing.T) {
	near := func(what string, got exact.Number, want float64) {
		t.Helper()
		if math.Abs(got.Float()-want) > 0.0006 {
			t.Errorf("%s is %v, want %v", what, got.Float(), want)
		}
	}
	// By the marking alone the factor is chosen: 3.05 · 743.9 = 2268.895.
	a, err := Work(Tire{Marking: "225/75R16"})
	if err != nil {
		t.Fatal(err)
	}
	near("factor", a.RollingMM, 2268.895)
	if a.Source != Factor || len(a.Known) != 2 {
		t.Errorf("%s, %d known", a.Source, len(a.Known))
	}
	near("π·D", a.Known[1].MM, math.Pi*743.9)
	near("turns per km", a.RevsPerKM, 1e6/2268.895)
	near("turns per mile", a.RevsPerMile, 1609344/2268.895)
	if math.Abs(a.Apart-3.0) > 0.05 { // π/3.05 = 1.03003
		t.Errorf("apart %v", a.Apart)
	}
	// Bias: 2.99.
	a, _ = Work(Tire{Marking: "31x10.50-15"})
	near("bias", a.RollingMM, 2.99*787.4)
	// A rollout is better than the maker's turns, which are better than factors.
	a, err = Work(Tire{Marking: "31x10.50R15", RolloutMM: fig("7203"), RolloutTurns: 3, RevsPerMile: fig("670")})
	if err != nil {
		t.Fatal(err)
	}
	near("rollout", a.RollingMM, 2401)
	if a.Source != Rollout || a.Known[1].Source != Revs || !a.Known[0].Chosen {
		t.Errorf("%+v", a.Known)
	}
	near("maker's turns", a.Known[1].MM, 1609344.0/670)
	// Chosen by hand.
	a, _ = Work(Tire{Marking: "31x10.50R15", RolloutMM: fig("7203"), RolloutTurns: 3, Use: Geometric})
	near("geometric", a.RollingMM, math.Pi*787.4)
	a, _ = Work(Tire{RevsPerKM: fig("400")})
	near("turns per km", a.RollingMM, 2500)
	// A measured diameter overrides the marking's.
	a, _ = Work(Tire{Marking: "7.50-16", DiameterMM: fig("810")})
	near("measured diameter", a.RollingMM, 2.99*810)
	if a.Estimated || len(a.Notes) == 0 {
		t.Errorf("estimated %v, notes %v", a.Estimated, a.Notes)
	}
	// A rollout that can't belong to the marking is remarked.
	a, _ = Work(Tire{Marking: "225/75R16", RolloutMM: fig("4540"), RolloutTurns: 1})
	if len(a.Notes) == 0 || !strings.Contains(strings.Join(a.Notes, " "), "count of turns") {
		t.Errorf("notes %v", a.Notes)
	}
}

func TestWorkRefuses(t *testing.T) {
	for _, c := range []struct {
		in    Tire
		field string
	}{
		{Tire{}, "marking"},
		{Tire{Marking: "nonsense"}, "marking"},
		{Tire{Marking: "225/75R16", Use: Rollout}, "use"},
		{Tire{Marking: "225/75R16", Use: "guess"}, "use"},
		{Tire{DiameterMM: fig("12")}, "diameter_mm"},
		{Tire{RolloutMM: fig("7203"), RolloutTurns: 51}, "rollout_turns"},
		{Tire{RolloutMM: fig("2400"), RolloutTurns: 10}, "rollout_mm"},
		{Tire{RevsPerKM: fig("5")}, "revs_per_km"},
		{Tire{Marking: "225/75R16", MassKG: -1}, "mass_kg"},
		{Tire{Marking: "225/75R16", MassKG: math.NaN()}, "mass_kg"},
		{Tire{Marking: "225/75R16", Construction: "wood"}, "construction"},
	} {
		_, err := Work(c.in)
		if err == nil || !strings.HasPrefix(err.Error(), c.field+":") {
			t.Errorf("%+v: %v, want a fault at %s", c.in, err, c.field)
		}
	}
}

func TestCompare(t *testing.T) {
	old, _ := Work(Tire{Marking: "225/75R16"})
	fresh, _ := Work(Tire{Marking: "31x10.50R15"})
	c := Compare(old, fresh)
	// 787.4 / 743.9 = 1.058476: both by the same factor.
	if math.Abs(c.Rolling.Float()-787.4/743.9) > 1e-6 || math.Abs(c.Percent-5.8476) > 0.001 {
		t.Errorf("%v %v", c.Rolling, c.Percent)
	}
	if *c.ClearanceMM != 21.75 || *c.DiameterMM != 43.5 || math.Abs(*c.WidthMM-41.7) > 1e-9 {
		t.Errorf("rises %v, %v across, %v wide", *c.ClearanceMM, *c.DiameterMM, *c.WidthMM)
	}
	if v := c.TrueAt[3]; v.Shown != 100 || math.Abs(v.True-105.848) > 0.001 {
		t.Errorf("%+v", v)
	}
	if !strings.Contains(c.Sentences[0], "taller gear (numerically lower)") || !strings.Contains(c.Sentences[1], "reads low") {
		t.Errorf("%v", c.Sentences)
	}
	if c.Spread > 1 { // the same factor for both cancels
		t.Errorf("spread %v", c.Spread)
	}
	back := Compare(fresh, old)
	if !back.Rolling.Equal(c.Rolling.Inv()) || !strings.Contains(back.Sentences[0], "shorter gear (numerically higher)") {
		t.Errorf("%v %v", back.Rolling, back.Sentences)
	}
	// The same outside diameter on a larger rim changes nothing:
	// 15·25.4 + 2·x = 787.4 on a rim of 17 inches.
	a, _ := Work(Tire{Marking: "31x10.50R15"})
	b, _ := Work(Tire{Marking: "31x10.50R17"})
	same := Compare(a, b)
	if same.Percent != 0 || len(same.Sentences) != 2 || !strings.Contains(same.Sentences[1], "larger rim") {
		t.Errorf("%+v", same)
	}
	// Different sources are warned about.
	r, _ := Work(Tire{Marking: "225/75R16", RolloutMM: fig("2260")})
	if s := Compare(r, fresh).Sentences; !strings.Contains(s[len(s)-1], "different sources") {
		t.Errorf("%v", s)
	}
}
