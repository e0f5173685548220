package fault

import (
	"fmt"
	"math"
	"reflect"
	"slices"
	"strconv"
	"strings"
	"sync"
)

// Least and Most bound every figure of a question, zero apart: what a gauge, a
// tire or a gearbox gives in any unit of the trade lies well inside. Products
// and quotients of a dozen such figures stay within a float64, so no answer
// can become infinite by its input alone.
const (
	Least = 1e-9
	Most  = 1e12
)

// mostFigures is how many faults are told of one question.
const mostFigures = 20

// Figure says what is wrong with a number that no bench can work with; nothing
// where it can.
func Figure(v float64) string {
	size := math.Abs(v)
	switch {
	case math.IsNaN(v):
		return "enter a number"
	case size > Most:
		return fmt.Sprintf("%.3g is larger than anything that is measured here; check the figure and its unit", v)
	case size != 0 && size < Least:
		return fmt.Sprintf("%.3g is smaller than any gauge reads; enter 0, or check the figure and its unit", v)
	}
	return ""
}

// Figures looks at every number of a question, at any depth, and lists those
// that are no figures of this trade by their paths (their names in JSON). It
// costs one walk over the question.
func Figures(question any) error {
	var errs Errors
	figures(reflect.ValueOf(question), nil, &errs)
	return errs.Err()
}

// floater is an exact number that keeps its figure to itself.
type floater interface{ Float() float64 }

// step is a place in a question; its path is written only where there is a fault.
type step struct {
	above *step
	name  string
	index int // of a list, where the name is empty
}

func (s *step) path() string {
	if s == nil {
		return ""
	}
	name := s.name
	if name == "" && s.index >= 0 {
		name = strconv.Itoa(s.index)
	}
	return under(s.above.path(), name)
}

// plan is what of a type is looked at: found out once.
type plan struct {
	figure  bool // it has a Float of its own
	nothing bool // no number can be in it
	fields  []planned
}

type planned struct {
	at   int
	name string
	of   *plan
}

var plans sync.Map // reflect.Type → *plan

var floaterType = reflect.TypeFor[floater]()

func planOf(t reflect.Type) *plan {
	if p, ok := plans.Load(t); ok {
		return p.(*plan)
	}
	p := makePlan(t, map[reflect.Type]*plan{})
	plans.Store(t, p)
	return p
}

func makePlan(t reflect.Type, making map[reflect.Type]*plan) *plan {
	if p := making[t]; p != nil {
		return p // of itself: it may have numbers
	}
	p := &plan{}
	making[t] = p
	switch t.Kind() {
	case reflect.Float32, reflect.Float64, reflect.Int, reflect.Int8, reflect.Int16, reflect.Int32, reflect.Int64, reflect.Interface:
	case reflect.Pointer, reflect.Slice, reflect.Array, reflect.Map:
		p.nothing = makePlan(t.Elem(), making).nothing
	case reflect.Struct:
		if p.figure = t.Implements(floaterType); p.figure {
			break
		}
		for i := range t.NumField() {
			f := t.Field(i)
			if !f.IsExported() {
				continue
			}
			if of := makePlan(f.Type, making); !of.nothing {
				p.fields = append(p.fields, planned{i, jsonName(f), of})
			}
		}
		p.nothing = len(p.fields) == 0
	default:
		p.nothing = true
	}
	return p
}

func figures(v reflect.Value, at *step, errs *Errors) {
	if !v.IsValid() || len(*errs) >= mostFigures {
		return
	}
	look := func(x float64) {
		if m := Figure(x); m != "" {
			errs.Add(at.path(), "%s", m)
		}
	}
	p := planOf(v.Type())
	if p.nothing {
		return
	}
	switch v.Kind() {
	case reflect.Float32, reflect.Float64:
		look(v.Float())
	case reflect.Int, reflect.Int8, reflect.Int16, reflect.Int32, reflect.Int64:
		look(float64(v.Int()))
	case reflect.Pointer, reflect.Interface:
		if !v.IsNil() {
			figures(v.Elem(), at, errs)
		}
	case reflect.Slice, reflect.Array:
		for i := range v.Len() {
			figures(v.Index(i), &step{above: at, index: i}, errs)
		}
	case reflect.Map:
		keys := v.MapKeys()
		slices.SortFunc(keys, func(a, b reflect.Value) int { return strings.Compare(a.String(), b.String()) })
		for _, k := range keys {
			figures(v.MapIndex(k), &step{above: at, name: fmt.Sprint(k), index: -1}, errs)
		}
	case reflect.Struct:
		if p.figure {
			x := v.Interface()
			if z, ok := x.(interface{ IsZero() bool }); !ok || !z.IsZero() {
				look(x.(floater).Float())
			}
			return
		}
		for _, f := range p.fields {
			figures(v.Field(f.at), &step{above: at, name: f.name, index: -1}, errs)
		}
	}
}

// jsonName is what a field is called in JSON; nothing for an embedded one, whose
// fields stand in the place of itself.
func jsonName(f reflect.StructField) string {
	name, _, _ := strings.Cut(f.Tag.Get("json"), ",")
	switch {
	case name != "" && name != "-":
		return name
	case f.Anonymous:
		return ""
	}
	return strings.ToLower(f.Name)
}

func under(at, name string) string {
	if at == "" || name == "" {
		return at + name
	}
	return at + "/" + name
}
