package findfault

import (
	"fmt"
	"slices"
	"strings"

	"zorvel/core/fault"
	"zorvel/core/say"
)

// MostBroken is how many broken parts are compared.
const MostBroken = 12

// Faces of a break, as they are seen.
const (
	Beach    = "beach"    // rings from a corner inward: it grew for long
	Clean    = "clean"    // grainy all over: one overload
	Polished = "polished" // rubbed smooth: it ran on after it broke
	Struck   = "struck"   // dents of something hard
	Unseen   = "unseen"
)

// BrokenPart is one of several parts that are found broken.
type BrokenPart struct {
	Name    string `json:"name"`
	Face    string `json:"face"`
	Noticed int    `json:"noticed,omitempty"` // 1: what it does was noticed first, 2 next; 0 not known
}

// FirstQuestion asks which of several parts broke first.
type FirstQuestion struct {
	Broken []BrokenPart `json:"broken"`
}

// FirstAnswer says it, or that it can't be told.
type FirstAnswer struct {
	First    string   `json:"first,omitempty"` // empty: unknown
	Sentence string   `json:"sentence"`
	Why      []string `json:"why"`
}

// First says which part broke first, only where faces or the order of events
// tell: rings grow over time while a clean face breaks at once, a rubbed face
// has run on, and who was struck was struck by something that broke before
// (fractography, any textbook of failure analysis). Where these disagree, or none
// tells, it is unknown.
func First(q FirstQuestion) (*FirstAnswer, error) {
	if err := fault.Figures(q); err != nil {
		return nil, err
	}
	var errs fault.Errors
	if len(q.Broken) < 2 || len(q.Broken) > MostBroken {
		errs.Add("broken", "from 2 to %d parts that are broken", MostBroken)
	}
	seen := map[string]bool{}
	for i, b := range q.Broken {
		at := fmt.Sprintf("broken/%d/", i)
		name := strings.TrimSpace(b.Name)
		if name == "" || len([]rune(name)) > 100 || seen[name] {
			errs.Add(at+"name", "a name of its own, up to 100 characters")
		}
		seen[name] = true
		if !slices.Contains([]string{Beach, Clean, Polished, Struck, Unseen}, b.Face) {
			errs.Add(at+"face", "beach (rings), clean (grainy), polished (rubbed), struck (dented) or unseen")
		}
		if b.Noticed < 0 || b.Noticed > MostBroken {
			errs.Add(at+"noticed", "1 for what was noticed first, 2 for the next; 0 if it is not known")
		}
	}
	if err := errs.Err(); err != nil {
		return nil, err
	}
	a := &FirstAnswer{Why: []string{}}
	var votes []string
	vote := func(name, why string) {
		votes = append(votes, name)
		a.Why = append(a.Why, why)
	}
	with := func(face string) []string {
		var out []string
		for _, b := range q.Broken {
			if b.Face == face {
				out = append(out, b.Name)
			}
		}
		return out
	}
	beach, polished, struck, clean, unseen := with(Beach), with(Polished), with(Struck), with(Clean), with(Unseen)
	if len(beach) == 1 && len(unseen) == 0 {
		vote(beach[0], beach[0]+" has rings: its crack grew for long, the others broke at once.")
	}
	if len(polished) == 1 && len(unseen) == 0 && len(beach) == 0 {
		vote(polished[0], polished[0]+" is rubbed smooth where it broke: it ran on broken, the others' faces are fresh.")
	}
	if len(struck) == len(q.Broken)-1 && len(unseen) == 0 {
		for _, b := range q.Broken {
			if b.Face != Struck {
				vote(b.Name, "All others were struck, "+b.Name+" was not: its pieces may have struck them.")
			}
		}
	}
	if first := noticedFirst(q.Broken); first != "" {
		vote(first, first+" was noticed before the others.")
	}
	for _, n := range clean {
		a.Why = append(a.Why, n+": a clean face shows one overload, not the order.")
	}
	for _, n := range unseen {
		a.Why = append(a.Why, n+": its face was not looked at; it may have broken before any other.")
	}
	for _, list := range [][]string{beach, polished} {
		if len(list) > 1 {
			a.Why = append(a.Why, strings.Join(list, " and ")+" look alike: there is no telling which is older.")
		}
	}
	a.Sentence = "Unknown: neither the break surfaces nor the order of events show which broke first."
	switch {
	case len(votes) > 0 && len(slices.Compact(slices.Sorted(slices.Values(votes)))) > 1:
		a.Sentence = "Unknown: the faces and the order of events speak for different parts."
	case len(votes) > 0:
		a.First = votes[0]
		a.Sentence = say.Capital(votes[0]) + " broke first, as far as faces and events tell."
	}
	return a, nil
}
