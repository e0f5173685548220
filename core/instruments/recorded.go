package instruments

import (
	"fmt"
	"strconv"
	"strings"

	"zorvel/core/fault"
	"zorvel/core/say"
)

// ReadRecorded reads a file of sentences. Moments are those of the RMC
// sentences; what stands between two of them shares the earlier one's.
func ReadRecorded(text string) (*Recorded, error) {
	r := &Reader{}
	p := pace{own: !strings.Contains(text, "RMC,")}
	out := &Recorded{Samples: []Sample{}}
	var list []Sample
	var begin, last float64
	started := false
	lines := 0
	for line := range strings.SplitSeq(text, "\n") {
		if strings.TrimSpace(line) == "" {
			continue
		}
		if lines++; lines > MaxLines {
			return nil, fault.New("text", "at most %d sentences", MaxLines)
		}
		if at, ok := clock(line); ok {
			if !started {
				begin, started = at, true
			}
			if at < begin { // past midnight
				at += 86400
			}
			last = max(last, at-begin)
		} else if p.own {
			last = p.tick(line)
		}
		if s, used := r.Take(line, last); used {
			if n := len(list); n > 0 && list[n-1].At == s.At {
				list[n-1] = s
			} else {
				list = append(list, s)
			}
		}
	}
	out.Count = r.Count
	if len(list) == 0 {
		return nil, fault.New("text", "no sentence of speed or rpm could be read: %d broken, %d of other kinds; a file of NMEA 0183 lines such as $GPRMC,… is expected", r.Count.Broken, r.Count.Other)
	}
	out.Seconds = list[len(list)-1].At
	thin := max(1, len(list)/1200)
	for i := 0; i < len(list); i += thin {
		out.Samples = append(out.Samples, list[i])
	}
	out.Text = fmt.Sprintf("%d sentences used, %d of other kinds or talkers, %d without a fix, %d broken and left out.", r.Count.Read, r.Count.Other, r.Count.Void, r.Count.Broken)
	if p.own {
		out.Text += " It has no clock of its own: one round of its sentences is taken for a second."
	}
	if s, ok := FindSteady(list); ok {
		out.Steady = &s
		out.Text += fmt.Sprintf(" Steady for %s s: %s rpm at %s kn.", say.Trim(s.Seconds, 0), say.Trim(s.RPM, 0), say.Trim(s.SpeedKN, 2))
	} else {
		out.Text += " It has no steady run of eight seconds with both rpm and speed."
	}
	return out, nil
}

// pace is the time of a recording without a clock: each round of its sentences is a
// second, as most instruments speak.
type pace struct {
	own  bool
	seen map[string]bool
	at   float64
}

func (p *pace) tick(line string) float64 {
	f, ok := sentence(strings.TrimSpace(line))
	if !ok {
		return p.at
	}
	id := f[0]
	if strings.HasSuffix(id, "RPM") && len(f) > 2 {
		id += f[1] + f[2]
	}
	if p.seen == nil {
		p.seen = map[string]bool{}
	}
	if p.seen[id] {
		clear(p.seen)
		p.at++
	}
	if len(p.seen) < 50 {
		p.seen[id] = true
	}
	return p.at
}

// clock is the time of day of an RMC sentence, in seconds.
func clock(line string) (float64, bool) {
	f, ok := sentence(strings.TrimSpace(line))
	if !ok || len(f) < 2 {
		return 0, false
	}
	if _, kind := split(f[0]); kind != "RMC" || len(f[1]) < 6 {
		return 0, false
	}
	h, e1 := strconv.Atoi(f[1][:2])
	m, e2 := strconv.Atoi(f[1][2:4])
	s, e3 := strconv.ParseFloat(f[1][4:], 64)
	if e1 != nil || e2 != nil || e3 != nil || h > 23 || m > 59 || !(s >= 0 && s < 61) {
		return 0, false
	}
	return float64(h*3600+m*60) + s, true
}
