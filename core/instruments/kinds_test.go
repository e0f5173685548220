package instruments

import (
	"fmt"
	"math"
	"strings"
	"testing"
)

// Each kind of sentence is what it is: a shaft's rpm is no engine's, astern is no
// nonsense, twins are told apart, a maker's own and an encapsulated one are other
// kinds, and a control character spoils one sentence.
func TestKindsOfSentences(t *testing.T) {
	bang := "!" + line("AIVDM,1,1,,A,13u?etPv2;0n:dDPwUM1U1Cb069D,0")[1:]
	for name, c := range map[string]struct {
		lines  []string
		want   Sample
		counts Count
	}{
		"shaft":        {[]string{line("IIRPM,S,1,1520.0,17,A")}, Sample{Shaft: 1520, HasShaft: true}, Count{Read: 1}},
		"astern":       {[]string{line("IIRPM,E,1,-900,,A")}, Sample{RPM: 900, HasRPM: true, Astern: true, Engine: 1}, Count{Read: 1}},
		"twins":        {[]string{line("IIRPM,E,1,3000,,A"), line("IIRPM,E,2,2950,,A"), line("IIRPM,E,1,3010,,A")}, Sample{RPM: 3010, HasRPM: true, Engine: 1, Others: []Engine{{2, 2950}}}, Count{Read: 3}},
		"proprietary":  {[]string{line("PABCRPM,E,1,3000,,A")}, Sample{}, Count{Other: 1}},
		"encapsulated": {[]string{bang}, Sample{}, Count{Other: 1}},
		"control":      {[]string{line("IIRPM,E,1,3000,,A"), "$IIRPM,E,1,30\x0000,,A*00", line("IIRPM,E,1,3100,,A")}, Sample{RPM: 3100, HasRPM: true, Engine: 1}, Count{Read: 2, Broken: 1}},
		"void":         {[]string{line("IIRPM,E,1,3000,,V")}, Sample{}, Count{Void: 1}},
		"too fast":     {[]string{line("IIRPM,E,1,-31000,,A")}, Sample{}, Count{Broken: 1}},
	} {
		var r Reader
		for _, l := range c.lines {
			r.Take(l, 0)
		}
		r.now.At = 0
		if fmt.Sprint(r.now) != fmt.Sprint(c.want) || r.Count != c.counts {
			t.Errorf("%s: %+v %+v, want %+v %+v", name, r.now, r.Count, c.want, c.counts)
		}
	}
}

// A recording without a clock runs by its own pace, and one of a shaft finds its
// steady run.
func TestRecordingWithoutAClock(t *testing.T) {
	for _, source := range []string{"E", "S"} {
		var text strings.Builder
		for i := range 40 {
			fmt.Fprintf(&text, "%s\n%s\n", line(fmt.Sprintf("IIRPM,%s,1,%d,,A", source, 1500+i%3)), line(fmt.Sprintf("GPVTG,54.7,T,,M,%.1f,N,,K,A", 17.1+0.1*float64(i%2))))
		}
		r, err := ReadRecorded(text.String())
		if err != nil || r.Steady == nil || math.Abs(r.Steady.Seconds-39) > 1 || math.Abs(r.Steady.RPM-1501) > 1 || r.Steady.OfShaft != (source == "S") || !strings.Contains(r.Text, "no clock of its own") {
			t.Errorf("%s: %+v %v", source, r, err)
		}
	}
}
