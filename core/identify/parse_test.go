package identify

import (
	"errors"
	"math"
	"slices"
	"strings"
	"testing"
)

var axle = Stage{Kind: RingAndPinion}

func TestParseMark(t *testing.T) {
	cases := []struct {
		text  string
		stage Stage
		want  string // canonical readings, usual first
	}{
		{"47 9", axle, "47/9"}, {"9-47", axle, "47/9"}, {"47/9", axle, "47/9"}, {"47x9", axle, "47/9"}, {" 47  : 9 ", axle, "47/9"},
		{"R47 P9", axle, "47/9"}, {"522", axle, "5.22"}, {"5.22", axle, "5.22"}, {"5,22", axle, "5.22"}, {"4.10:1", axle, "4.10"},
		{"3711", axle, "37/11 3.711"}, {"1137", axle, "37/11"}, {"479", axle, "4.79 47/9"}, {"410", axle, "4.10"}, {"4110", axle, "41/10 4.110"},
		{"four-ten", axle, "4.10"}, {"three seventy-three", axle, "3.73"}, {"five twenty two", axle, "5.22"}, {"four point one oh", axle, "4.10"},
		{"three oh eight", axle, "3.08"}, {"forty-seven nine", axle, "47/9"}, {"4 10", axle, "4.10 10/4"}, {"41.10", axle, "41/10"},
		{"27-13", Stage{Kind: Gearcase}, "27/13"}, {"13 27", Stage{Kind: Gearcase}, "27/13"}, {"30 60", Stage{Kind: Planetary}, "30/60"},
		{"41 4", axle, "41/4"}, // unusual, still read
		{"4-10", axle, "4.10 10/4"}, {"4·10", axle, "4.10 10/4"}, {"4·11", axle, "4.11 11/4"}, {"4–11", axle, "4.11 11/4"}, {"3-727", axle, "3.727"},
		{"5-38", axle, "5.38 38/5"}, {"10-4", axle, "10/4"}, {"2-08", Stage{Kind: Gearcase}, "2.08"}, {"2-72", Stage{Kind: TransferCase, Position: "low"}, "2.72"},
		{"one to four point one one", axle, "4.11"}, {"1 to 4.11", axle, "4.11"}, {"1:4.11", axle, "4.11"}, {"four point one", axle, "4.1"},
		{"four ten to one", axle, "4.10"}, {"three and three quarter", axle, "3.75"}, {"3 3/4", axle, "3.75"}, {"4½", axle, "4.50"},
		{"3.73:1.00", axle, "3.73"}, {"3.73 LS", axle, "3.73"}, {"４.１０", axle, "4.10"}, {"4:1", axle, "4"}, {"47−9", axle, "47/9"},
	}
	for _, c := range cases {
		marks, err := ParseMark(c.text, c.stage)
		if err != nil {
			t.Errorf("%q: %v", c.text, err)
			continue
		}
		var got []string
		for _, m := range marks {
			got = append(got, m.Canonical())
		}
		if strings.Join(got, " ") != c.want {
			t.Errorf("%q read as %v, want %s", c.text, got, c.want)
		}
	}
	for _, bad := range []string{"", "axle", "0 0", "47 0", "4 and a bit", "1 2 3", strings.Repeat("4", 90), "99999"} {
		marks, err := ParseMark(bad, axle)
		var e *Error
		if !errors.As(err, &e) || e.Field != "text" {
			t.Errorf("%q read as %v, %v; want a fault at text", bad, marks, err)
		}
	}
}

func TestParseShaft(t *testing.T) {
	cases := []struct {
		text  string
		turns float64
		by    RemainderBy
	}{
		{"4", 4, OnTheMark}, {"4 and a bit", 4.05, PastABit}, {"just past four", 4.05, PastABit}, {"just short of five", 4.95, ShortABit},
		{"almost 5", 4.95, ShortABit}, {"4 1/4", 4.25, BareQuarter}, {"5¼", 5.25, BareQuarter}, {"four and a quarter", 4.25, BareQuarter},
		{"quarter past 4", 4.25, BareQuarter}, {"half past three", 3.5, BareQuarter}, {"a quarter short of 5", 4.75, BareQuarter},
		{"3 tenths past 4", 4.3, ByEye}, {"three tenths past four", 4.3, ByEye}, {"4 and three quarters", 4.75, BareQuarter},
		{"4.3", 4.3, ByEye}, {"4,3", 4.3, ByEye}, {"4 1/3", 4 + 1.0/3, ByEye}, {"a tenth short of five", 4.9, ByEye},
		{"twenty-one turns", 21, OnTheMark}, {"exactly 4 turns", 4, OnTheMark}, {"2 and a half", 2.5, BareQuarter}, {"one and a half", 1.5, BareQuarter},
		{"half a turn", 0.5, BareQuarter}, {"4 and a bit more", 4.05, PastABit},
		{"almost 3.5", 3.45, ShortABit}, {"just short of 3.9", 3.85, ShortABit}, {"just under 4.1", 4.05, ShortABit}, {"a hair under 3 and a half", 3.45, ShortABit},
		{"nearly 4 1/4", 4.2, ShortABit}, {"three and almost a half", 3.45, ShortABit}, {"a turn and a half", 1.5, BareQuarter},
		{"a turn and a quarter", 1.25, BareQuarter}, {"a hair short of a half", 0.45, ShortABit}, {"just short of 149 and a half", 149.45, ShortABit},
		{"a hundred and forty-nine and a half", 149.5, BareQuarter}, {"one hundred forty nine", 149, OnTheMark}, {"four point one", 4.1, ByEye},
		{"three and three quarter", 3.75, BareQuarter}, {"one quarter", 0.25, BareQuarter}, {"a quarter turn past four", 4.25, BareQuarter},
		{"4 turns and a quarter turn", 4.25, BareQuarter}, {"4 less a quarter", 3.75, BareQuarter}, {"5 less a hair", 4.95, ShortABit}, {"4+", 4.05, PastABit},
		{"5 a hair short", 4.95, ShortABit}, {"5, a tenth short", 4.9, ByEye}, {"4 and 3 tenths more", 4.3, ByEye}, {"not quite five", 4.95, ShortABit},
		{"about 4", 4, BareQuarter}, {"4 or so", 4, BareQuarter}, {"4ish", 4, BareQuarter}, {"a fraction past 4", 4.05, PastABit}, {"4 and a little over a quarter", 4.3, PastABit}, {"quarter to five", 4.75, BareQuarter},
		{"a tenth past four and a half", 4.6, ByEye}, {"slightly more than 4 1/2", 4.55, PastABit}, {"just past half past three", 3.55, PastABit},
		{"４ ½", 4.5, BareQuarter}, {"4 3/8", 4.375, ByEye}, {"two and two thirds", 2 + 2.0/3, ByEye},
	}
	for _, c := range cases {
		s, err := ParseShaft(c.text)
		if err != nil || math.Abs(s.turns()-c.turns) > 1e-9 || s.Remainder.By != c.by {
			t.Errorf("%q: %v turns by %s, %v; want %v by %s", c.text, s.turns(), s.Remainder.By, err, c.turns, c.by)
		}
	}
	for _, bad := range []string{"", "a few", "four five", "4 bananas", "5/4", "1/0", "4.5.6", "past short", "just short of 0", "just just", "a", "and", "of a turn"} {
		if s, err := ParseShaft(bad); err == nil {
			t.Errorf("%q understood as %+v", bad, s)
		}
	}
}

// Every nudge at every number moves it to its own side, by less than a tenth.
func TestNudgesStayNearTheNumber(t *testing.T) {
	numbers := map[string]float64{
		"a half": 0.5, "half a turn": 0.5, "one": 1, "a turn and a half": 1.5, "2 1/4": 2.25, "three and three quarters": 3.75, "3.5": 3.5,
		"3,9": 3.9, "4.1": 4.1, "4 1/4": 4.25, "four and a third": 4 + 1.0/3, "5": 5, "five": 5, "12 3/8": 12.375, "twenty-one": 21, "forty and a tenth": 40.1,
		"149 and a half": 149.5, "one hundred and four": 104, "a hundred and forty-nine and a half": 149.5, "3 tenths past 7": 7.3,
		"a quarter short of 6": 5.75, "point five": 0.5, "four point one oh": 4.1, "four point seven three": 4.73,
	}
	less := []string{"almost", "nearly", "not quite", "not yet", "just short of", "just under", "a hair under", "a hair short of", "a bit less than",
		"slightly below", "a touch shy of", "barely under", "only just short of", "a little bit under"}
	more := []string{"just past", "just over", "a hair past", "a bit over", "slightly more than", "a touch beyond", "a little after", "only just over"}
	same := []string{"about", "roughly", "around", "exactly", "close to", "just about", "near"}
	try := func(nudge string, side float64) {
		for words, n := range numbers {
			text := nudge + " " + words
			s, err := ParseShaft(text)
			if err != nil {
				t.Errorf("%q: %v", text, err)
				continue
			}
			if d := s.turns() - n; math.Abs(d) >= 0.1 || d*side < 0 || (side != 0) != (d != 0) && math.Abs(d) > 1e-9 {
				t.Errorf("%q is %v turns, of %v", text, s.turns(), n)
			}
		}
	}
	for _, x := range less {
		try(x, -1)
	}
	for _, x := range more {
		try(x, 1)
	}
	for _, x := range same {
		try(x, 0)
	}
	for words, n := range numbers {
		for text, side := range map[string]float64{words + " and a bit": 1, words + " plus a touch": 1, words + " less a hair": -1, words + " a hair short": -1, words + ", or so": 0} {
			s, err := ParseShaft(text)
			if err != nil {
				t.Errorf("%q: %v", text, err)
				continue
			}
			if d := s.turns() - n; math.Abs(d) >= 0.1 || d*side < 0 || side == 0 && math.Abs(d) > 1e-9 {
				t.Errorf("%q is %v turns, of %v", text, s.turns(), n)
			}
		}
	}
}

// What can be understood in two ways is asked, and each offered text reads one
// way only, as its sentence says.
func TestShaftWordsAreAskedNotGuessed(t *testing.T) {
	for text, want := range map[string][]float64{
		"three quarter": {0.75, 3.25}, "two third": {2.0 / 3, 2 + 1.0/3}, "just 4": {4, 4.05}, "almost 4 and a bit": {3.95, 4.05},
		"4 or 5": {4, 5}, "four or four and a half": {4, 4.5}, "3 tenth": {0.3, 3.1},
	} {
		_, err := ParseShaft(text)
		var a *Ambiguous
		if !errors.As(err, &a) {
			t.Errorf("%q: %v; want to be asked", text, err)
			continue
		}
		e, err := Understand(text, ShaftPhrase, axle)
		if err != nil || len(e.Choices) != len(want) || e.Shaft != nil {
			t.Errorf("%q: %+v, %v", text, e, err)
			continue
		}
		var got []float64
		for _, c := range e.Choices {
			s, err := ParseShaft(c.Text)
			if err != nil || s.Sentence() != c.Sentence {
				t.Errorf("%q offers %q: %v", text, c.Text, err)
			}
			got = append(got, s.turns())
			if !strings.Contains(a.Error(), c.Text) {
				t.Errorf("%q: %v doesn't offer %q", text, a, c.Text)
			}
		}
		slices.Sort(got)
		for i := range want {
			if math.Abs(got[i]-want[i]) > 1e-3 {
				t.Errorf("%q offers %v, want %v", text, got, want)
			}
		}
	}
}

func TestUnderstandSaysOneThing(t *testing.T) {
	cases := []struct {
		text    string
		as      Phrase
		stage   Stage
		choices int
		says    string
	}{
		{"four-ten", MarkPhrase, axle, 1, "the ratio 4.10"},
		{"47 9", MarkPhrase, axle, 1, "47 ring gear teeth and 9 pinion teeth: ratio 47/9, label 5.22"},
		{"479", MarkPhrase, axle, 2, "Could be"},
		{"27 13", MarkPhrase, Stage{Kind: Gearcase}, 1, "27 forward gear teeth"},
		{"4 and a bit", ShaftPhrase, axle, 1, "4 whole turns and 0.05 turn more"},
		{"just short of 5", ShaftPhrase, axle, 1, "0.05 turn short of 5 whole turns: 4.95"},
		{"a higher gear", TalkPhrase, axle, 2, "shorter gear: numerically higher"},
		{"lower gears", TalkPhrase, axle, 2, "taller gear: numerically lower"},
		{"shorter", TalkPhrase, axle, 1, "numerically higher"},
		{"a 522", TalkPhrase, axle, 1, "5.22"},
		{"41 splines", TalkPhrase, axle, 1, "41 teeth"},
		{"4 and a bit", TalkPhrase, axle, 1, "4.05 turns"},
	}
	for _, c := range cases {
		e, err := Understand(c.text, c.as, c.stage)
		if err != nil || len(e.Choices) != c.choices || !strings.Contains(e.Sentence, c.says) {
			t.Errorf("%q: %q with %d choices, %v; want %d saying %q", c.text, e.Sentence, len(e.Choices), err, c.choices, c.says)
		}
		// What is offered must itself read one way only.
		if c.as == MarkPhrase {
			for _, ch := range e.Choices {
				again, err := Understand(ch.Text, MarkPhrase, c.stage)
				if err != nil || len(again.Choices) != 1 {
					t.Errorf("choice %q of %q reads %d ways, %v", ch.Text, c.text, len(again.Choices), err)
				}
			}
		}
	}
	for _, as := range []Phrase{MarkPhrase, ShaftPhrase, TalkPhrase, "song"} {
		if _, err := Understand("hello there", as, axle); err == nil {
			t.Errorf("nonsense understood as %s", as)
		}
	}
}

func FuzzParseMark(f *testing.F) {
	for _, s := range []string{"47 9", "522", "four-ten", "4.10:1", "479", "5,22", "٤٧ 9", "1:4.10"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, text string) {
		for _, s := range []Stage{axle, {Kind: Planetary}, {Kind: Gearbox, Position: "2"}} {
			marks, err := ParseMark(text, s)
			if err == nil && len(marks) == 0 {
				t.Fatalf("%q: no reading and no error", text)
			}
			for _, m := range marks {
				if m.IsRatio() && (m.value() <= 0 || m.value() > 20.01) {
					t.Fatalf("%q read as ratio %v", text, m.value())
				}
				if !m.IsRatio() {
					if r := construction(t, s, m.Construction).mustRatio(s, m.Counts); r == 0 {
						t.Fatalf("%q read as %v, which has no ratio", text, m.Counts)
					}
				}
			}
		}
	})
}

func FuzzParseShaft(f *testing.F) {
	for _, s := range []string{"4 and a bit", "just short of 5", "5¼", "4.3", "three tenths past four", "1/0", "½"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, text string) {
		s, err := ParseShaft(text)
		if err != nil {
			return
		}
		if s.Whole < 0 || !(s.Remainder.Fraction >= 0 && s.Remainder.Fraction < 1) {
			t.Fatalf("%q understood as %+v", text, s)
		}
		if s.Sentence() == "" {
			t.Fatalf("%q has no sentence", text)
		}
	})
}
