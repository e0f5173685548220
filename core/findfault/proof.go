package findfault

import (
	"cmp"
	"slices"

	"zorvel/core/fault"
	"zorvel/core/say"
)

// Results of a repair against the verdict that it followed.
const (
	ProvedRight = "right"     // the likeliest was it
	ProvedGroup = "group"     // it was named, beside others that nothing told apart
	ProvedWrong = "wrong"     // something else was it
	NotCured    = "not_cured" // it still does what it did: what was found wasn't it, or not all
)

// Repair is what was found when it was opened, and whether putting that right
// cured it: the proof of a verdict.
type Repair struct {
	Said      string  `json:"said"` // the likeliest fault, by ID
	SaidName  string  `json:"said_name"`
	SaidSort  string  `json:"said_sort"`
	Sure      float64 `json:"sure"`
	Settled   bool    `json:"settled"`
	Found     string  `json:"found,omitempty"` // by ID; empty: something that isn't in the model
	FoundName string  `json:"found_name"`
	FoundSort string  `json:"found_sort,omitempty"`
	FoundPart string  `json:"found_part,omitempty"`
	Cured     bool    `json:"cured"`
	Result    string  `json:"result"`
	Sentence  string  `json:"sentence"`
}

// Prove holds what was found against a verdict. found is the ID of a fault of
// the driveline, or empty with other saying what it was.
func Prove(q *Question, a *Answer, found, other string, cured bool) (*Repair, error) {
	if len(a.Suspects) == 0 {
		return nil, fault.New("verdict", "that record holds no verdict")
	}
	top := a.Suspects[0]
	r := &Repair{Said: top.ID, SaidName: top.Name, SaidSort: top.Sort, Sure: top.Probability, Settled: a.Settled, Found: found, FoundName: other, Cured: cured}
	named := false
	if found != "" {
		list := Faults(&q.Driveline)
		i := slices.IndexFunc(list, func(f Fault) bool { return f.ID == found })
		if i < 0 {
			return nil, fault.New("found", "this unit has no such fault; say what it was in words")
		}
		r.FoundName, r.FoundSort, r.FoundPart = list[i].Name, list[i].Sort, list[i].Part
		named = slices.Contains(a.Group, r.FoundName)
	} else if other == "" {
		return nil, fault.New("found", "what was it? One of the faults of the unit, or in words")
	}
	switch {
	case !cured:
		r.Result, r.Sentence = NotCured, notCured(r)
	case found == top.ID:
		r.Result, r.Sentence = ProvedRight, provedRight(r)
	case named:
		r.Result, r.Sentence = ProvedGroup, provedGroup(r, a)
	default:
		r.Result, r.Sentence = ProvedWrong, provedWrong(r)
	}
	return r, nil
}

// SureBand is how often verdicts called so sure were right.
type SureBand struct {
	From  float64 `json:"from"`
	To    float64 `json:"to"`
	N     int     `json:"n"`
	Said  float64 `json:"said"`  // mean of what was called sure
	Right float64 `json:"right"` // share that was right
}

// SortCount is how often a sort was it here.
type SortCount struct {
	Sort    string  `json:"sort"`
	N       int     `json:"n"`
	Others  int     `json:"others"`  // in other shops
	Typical float64 `json:"typical"` // weight that is typical
	Here    float64 `json:"here"`    // weight with this shop's jobs
}

// Record is how often a shop's verdicts were right.
type Record struct {
	Sentence string             `json:"sentence"`
	Proved   int                `json:"proved"` // repairs that cured it
	Right    int                `json:"right"`
	Group    int                `json:"group"`
	Wrong    int                `json:"wrong"`
	NotCured int                `json:"not_cured"`
	Others   int                `json:"others"` // repairs of other shops that weigh with them
	Bands    []SureBand         `json:"bands"`
	Sorts    []SortCount        `json:"sorts"`  // those that were it, the most frequent first
	Priors   map[string]float64 `json:"priors"` // for the next question
}

// Tell sums repairs up; others are how often other shops' repairs proved each sort.
func Tell(list []Repair, others map[string]int) Record {
	r := Record{Bands: []SureBand{}, Sorts: []SortCount{}}
	jobs := map[string]int{}
	sure := bands()
	for _, x := range list {
		switch x.Result {
		case NotCured:
			r.NotCured++
			continue
		case ProvedRight:
			r.Right++
		case ProvedGroup:
			r.Group++
		default:
			r.Wrong++
		}
		r.Proved++
		if _, ok := sorts[x.FoundSort]; ok {
			jobs[x.FoundSort]++
		}
		sure.Count(x.Sure, x.Result == ProvedRight)
	}
	for _, b := range sure {
		said := SureBand{From: b.From, To: b.To, N: b.Given}
		if b.Given > 0 {
			said.Said, said.Right = say.Round(b.Claimed/float64(b.Given), 3), say.Round(float64(b.Right)/float64(b.Given), 3)
		}
		r.Bands = append(r.Bands, said)
	}
	r.Priors = Learn(Learn(Priors(), others), jobs)
	for id, s := range sorts {
		n, elsewhere := jobs[id], max(0, others[id])
		r.Others += elsewhere
		if n+elsewhere > 0 {
			r.Sorts = append(r.Sorts, SortCount{id, n, elsewhere, s.prior, say.Round(r.Priors[id], 2)})
		}
	}
	slices.SortFunc(r.Sorts, func(a, b SortCount) int {
		return cmp.Or(b.N-a.N, b.Others-a.Others, cmp.Compare(a.Sort, b.Sort))
	})
	for id, p := range r.Priors {
		r.Priors[id] = say.Round(p, 4)
	}
	switch {
	case r.Proved == 0 && r.Others > 0:
		r.Sentence = "No verdict was proved by a repair here yet."
	case r.Proved == 0:
		r.Sentence = "No verdict was proved by a repair yet: what breaks how often is taken as typical."
	case r.Proved == 1 && r.Others > 0:
		r.Sentence = "One verdict was proved by a repair here."
	case r.Proved == 1:
		r.Sentence = "One verdict was proved by a repair; what is typical still weighs as 20 jobs."
	default:
		r.Sentence = recordText(r)
	}
	if r.Others > 0 {
		r.Sentence += " " + othersText(r)
	}
	return r
}
