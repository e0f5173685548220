package practice

import (
	"fmt"
	"math/rand/v2"
	"slices"

	"zorvel/core/fault"
)

// kind is one kind of hidden unit, whole in a file of its own.
type kind struct {
	id    string
	title string
	about string
	// levels say what each level adds, from 1.
	levels []string
	draw   func(t Task) (hidden, error)
}

// kinds are all of them, in the order in which they are learned.
var kinds []kind

func init() { kinds = []kind{ratioKind(), tiresKind(), setupKind(), raceKind(), brokenKind()} }

// Kind is a kind of hidden unit, as it is offered.
type Kind struct {
	ID     string   `json:"id"`
	Title  string   `json:"title"`
	About  string   `json:"about"`
	Levels []string `json:"levels"`
}

// Kinds lists the kinds of hidden unit.
func Kinds() []Kind {
	out := make([]Kind, len(kinds))
	for i, k := range kinds {
		out[i] = Kind{k.id, k.title, k.about, k.levels}
	}
	return out
}

func kindOf(t Task) (*kind, error) {
	i := slices.IndexFunc(kinds, func(k kind) bool { return k.id == t.Kind })
	if i < 0 {
		return nil, fault.New("task/kind", "%.40q is no kind of task", t.Kind)
	}
	if n := len(kinds[i].levels); t.Level < 1 || t.Level > n {
		return nil, fault.New("task/level", "from 1 to %d", n)
	}
	return &kinds[i], nil
}

// source draws what belongs to a task: the same from the same task on every machine.
func (t Task) source(what string) *rand.Rand {
	h := uint64(14695981039346656037) // FNV-1a
	for _, c := range []byte(fmt.Sprintf("%s %d %s", t.Kind, t.Level, what)) {
		h = (h ^ uint64(c)) * 1099511628211
	}
	return rand.New(rand.NewPCG(uint64(t.Seed), h))
}
