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
		// Estimated: 406.4 + 2·190.5·1.05; 571.5 + 2·279.4·0.86; 381 + 2·195·0.8.
		{"7.50-16", "7.50-16", Numeric, "190.5", "806.45", Bias, "", ""},
		{"7,50 R 16 LT 8PR", "7.50R16LT", Numeric, "190.5", "806.45", Radial, "8 PR", ""},
		{"6.00x16", "6.00-16", Numeric, "152.4", "726.44", Bias, "", ""},
		{"11R22.5", "11R22.5", Commercial, "279.4", "1052.068", Radial, "", ""},
		{"11 r 22,5 148/145L", "11R22.5", Commercial, "279.4", "1052.068", Radial, "148/145", "L"},
		{"195R15C", "195R15C", MetricBare, "195", "693", Radial, "", ""},
		{"10.00-20 16PR", "10.00-20", Numeric, "254", "1051.56", Bias, "16 PR", ""},
		{"7.50-16 116N", "7.50-16", Numeric, "190.5", "806.45", Bias, "116", "N"},
		{"9,00 - 20 140/137 J", "9.00-20", Numeric, "228.6", "1015.492", Bias, "140/137", "J"},
		{"LT235/75R15/C", "LT235/75R15", Metric, "235", "733.5", Radial, "range C", ""},
		{"31x10.50R15/C", "31x10.50R15", Flotation, "266.7", "787.4", Radial, "range C", ""},
		{"31X10.50-15LT/C 109Q", "31x10.50-15LT", Flotation, "266.7", "787.4", Bias, "109", "Q"},
		{"lt315/70r17/d 121/118q", "LT315/70R17", Metric, "315", "872.8", Radial, "121/118", "Q"},
		{"225/75R16 116 S", "225/75R16", Metric, "225", "743.9", Radial, "116", "S"},
		{"165SR13", "165R13", MetricBare, "165", "594.2", Radial, "", ""},
		{"26-8.5-13", "26.0/8.5/13", Racing, "215.9", "660.4", Radial, "", ""},
		// Written without signs, with other ones, on other keyboards.
		{"26570R17", "265/70R17", Metric, "265", "802.8", Radial, "", ""},
		{"２３５／８５Ｒ１６", "235/85R16", Metric, "235", "805.9", Radial, "", ""},
		{"235/85/R16", "235/85R16", Metric, "235", "805.9", Radial, "", ""},
		{"P 265 / 70 / R17", "P265/70R17", Metric, "265", "802.8", Radial, "", ""},
		{"225/75R16,121S", "225/75R16", Metric, "225", "743.9", Radial, "121", "S"},
		{"225/75R16, 121S", "225/75R16", Metric, "225", "743.9", Radial, "121", "S"},
		{"750-16", "7.50-16", Numeric, "190.5", "806.45", Bias, "", ""},
		{"900R20", "9.00R20", Numeric, "228.6", "1015.492", Radial, "", ""},
		{"1000R20 146/143K", "10.00R20", Numeric, "254", "1051.56", Radial, "146/143", "K"},
		{"7.50/16", "7.50-16", Numeric, "190.5", "806.45", Bias, "", ""},
		{"33x1250R15", "33x12.50R15", Flotation, "317.5", "838.2", Radial, "", ""},
		{"LT265/75R16 LRE", "LT265/75R16", Metric, "265", "803.9", Radial, "range E", ""},
		{"90/90-21", "90/90-21", Metric, "90", "695.4", Bias, "", ""},
		{"120/90-18 65H", "120/90-18", Metric, "120", "673.2", Bias, "65", "H"},
		// Letterless: radial or bias is open.
		{"33 12.50 15", "33x12.50x15", Flotation, "317.5", "838.2", Radial, "", ""},
		{"33/12.5/15", "33x12.50x15", Flotation, "317.5", "838.2", Radial, "", ""},
		{"37-12.5-17", "37x12.50x17", Flotation, "317.5", "939.8", Radial, "", ""},
		{"33x12.50x15", "33x12.50x15", Flotation, "317.5", "838.2", Radial, "", ""},
		// By their class: 355.6 + 2·196.85·0.815; 762 + 2·429.26·0.84; 381 + 2·225·0.765.
		{"7.75-14", "7.75-14", Numeric, "196.85", "676.4655", Bias, "", ""},
		{"16.9-30", "16.9-30", Numeric, "429.26", "1483.1568", Bias, "", ""},
		{"H78-15", "H78-15", Letter, "225", "725.25", Bias, "", ""},
		{"GR78-15", "GR78-15", Letter, "215", "709.95", Radial, "", ""},
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
		estimated := c.system == Numeric || c.system == Commercial || c.system == MetricBare || c.system == Letter
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
		"15x7":                     "is a rim's size",
		"17x9":                     "is a rim's size",
		"20 x 12":                  "is a rim's size",
		"7x16":                     "type 7.00-16 for the tire",
		"225/75R16.3":              "whole or half inches",
		"225/55R391":               "is not made",
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

// The stated spread holds for design sizes of the tire standards.
func TestEstimatesHoldForPublishedSizes(t *testing.T) {
	for size, published := range map[string]float64{
		"6.00-16": 728, "6.50-16": 748, "7.00-16": 778, "7.50-16": 808, "8.25-16": 860, "9.00-16": 890, "7.00-15": 752, "7.50-15": 778,
		"7.50-20": 928, "8.25-20": 970, "9.00-20": 1018, "10.00-20": 1052, "11.00-20": 1082, "12.00-20": 1122, "14.00-20": 1238, "12.00-24": 1222,
		"7.75-14": 684, "8.15-15": 718, "7.35-14": 660, "8.25-14": 695, "6.40-13": 642, "5.60-15": 656, "5.20-13": 582, "6.70-15": 706, "4.80-8": 414, "5.70-8": 465,
		"11.2-24": 1105, "12.4-28": 1260, "13.6-24": 1210, "14.9-28": 1370, "16.9-30": 1485, "18.4-38": 1750, "20.8-38": 1834, "23.1-26": 1608, "15.5-38": 1570,
		"15.5-25": 1275, "17.5-25": 1348, "20.5-25": 1492, "23.5-25": 1617, "26.5-25": 1750, "29.5R25": 1875, "14.00-24": 1370, "16.00-25": 1493, "18.00-25": 1615,
		"8.5R17.5": 802, "9.5R17.5": 842, "10R17.5": 858, "8R22.5": 936, "9R22.5": 974, "10R22.5": 1020, "11R22.5": 1050, "12R22.5": 1084, "11R24.5": 1104,
		"8.00-16.5": 724, "8.75-16.5": 749, "9.50-16.5": 775, "10-16.5": 773, "12-16.5": 836, "165R13": 596, "185R14": 650, "195R14C": 666, "205R16": 736,
		"A78-13": 592, "E78-14": 655, "G78-14": 686, "H78-15": 719, "L78-15": 747,
	} {
		m, err := Parse(size)
		if err != nil {
			t.Errorf("%s: %v", size, err)
			continue
		}
		if off := (m.DiameterMM.Float()/published - 1) * 100; math.Abs(off) > m.Spread {
			t.Errorf("%s: %s mm, published %v: %.1f %% off, stated ± %v %%", size, m.DiameterMM.Short(0), published, off, m.Spread)
		}
	}
}

// A size without its letter is reckoned as radial, asked, and its spread covers
// bias; once it is said, the spread is the usual one.
func TestLetterlessSizesAreAsked(t *testing.T) {
	for _, s := range []string{"33 12.50 15", "33/12.5/15", "37-12.5-17", "33x12.50x15", "26-8.5-13", `33"`, "35 inch"} {
		a, err := Work(Tire{Marking: s})
		if err != nil {
			t.Errorf("%s: %v", s, err)
			continue
		}
		d := a.DiameterMM.Float()
		for _, k := range []float64{RadialFactor * 1.014, BiasFactor * 0.986} {
			if off := math.Abs(d*k/a.RollingMM.Float()-1) * 100; !a.BuildOpen || off > a.Spread {
				t.Errorf("%s: open %v, rolls %v ± %v %%, but %v is possible", s, a.BuildOpen, a.RollingMM, a.Spread, d*k)
			}
		}
		said, err := Work(Tire{Marking: s, Construction: Bias})
		if err != nil || said.BuildOpen || said.Spread >= a.Spread || math.Abs(said.RollingMM.Float()-d*BiasFactor) > 0.001 {
			t.Errorf("%s, bias: %+v %v", s, said, err)
		}
		// What was said stands in its sentence, and it isn't asked again.
		if m := said.Marking; m != nil {
			again, err := Parse(m.Text)
			if m.BuildOpen || m.Construction != Bias || !strings.Contains(said.Sentence, "bias)") || strings.Contains(strings.Join(said.Notes, " "), "isn't marked") ||
				err != nil || again.BuildOpen || again.Sentence != m.Sentence {
				t.Errorf("%s, bias: %q with %q, read again as %+v %v", s, said.Sentence, said.Notes, again, err)
			}
		}
	}
	if a, err := Work(Tire{Marking: "225/75R16", Construction: Bias}); err != nil || len(a.Notes) == 0 || !strings.Contains(a.Notes[0], "The marking says radial, you say bias") {
		t.Errorf("said against the marking: %+v %v", a, err)
	}
	if a, err := Work(Tire{Marking: `33"`}); err != nil || a.DiameterMM.Short(1) != "838.2" || !strings.Contains(a.Sentence, "33 inches") {
		t.Errorf("%+v %v", a, err)
	}
}
