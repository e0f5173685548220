package fault_test

import (
	"fmt"
	"math"
	"testing"

	"zorvel/core/exact"
	"zorvel/core/fault"
)

type tire struct {
	MM     float64            `json:"mm"`
	Turns  *int               `json:"turns,omitempty"`
	Marked string             `json:"marked"`
	Ratio  exact.Number       `json:"ratio"`
	Loads  map[string]float64 `json:"loads"`
}

func ExampleFigures() {
	err := fault.Figures(struct {
		Tires []tire `json:"tires"`
	}{[]tire{{MM: 2150}, {MM: 1e-320}}})
	fmt.Println(err)
	// Output: tires/1/mm: 1e-320 is smaller than any gauge reads; enter 0, or check the figure and its unit
}

func TestFigures(t *testing.T) {
	huge, turns := 1<<55, 4
	tiny, err := exact.Parse("0.00000000000000000001")
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		q    any
		want string // the field; nothing where all is well
	}{
		{tire{}, ""},
		{&tire{MM: -2150, Turns: &turns, Ratio: exact.New(41, 10)}, ""},
		{tire{MM: fault.Least}, ""},
		{tire{MM: fault.Least * 0.99}, "mm"},
		{tire{MM: -fault.Most * 1.01}, "mm"},
		{tire{MM: math.NaN()}, "mm"},
		{tire{MM: math.Inf(-1)}, "mm"},
		{tire{Turns: &huge}, "turns"},
		{tire{Ratio: tiny}, "ratio"},
		{tire{Loads: map[string]float64{"left": 1, "right": 5e-324}}, "loads/right"},
		{struct{ tire }{tire{MM: 1e13}}, ""}, // not exported: not of the question
		{[]any{1.0, map[string]any{"a": 1e300}}, "1/a"},
		{nil, ""},
	} {
		err := fault.Figures(c.q)
		got := ""
		if list, ok := err.(fault.Errors); ok {
			got = list[0].Field
		}
		if got != c.want || (err == nil) != (c.want == "") {
			t.Errorf("%+v: %v, want %q", c.q, err, c.want)
		}
	}
}

func TestFiguresAreFew(t *testing.T) {
	list := make([]float64, 5000)
	for i := range list {
		list[i] = 1e-300
	}
	if err := fault.Figures(list).(fault.Errors); len(err) != 20 {
		t.Errorf("%d faults told", len(err))
	}
}
