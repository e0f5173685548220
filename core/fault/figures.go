package fault

import (
	"fmt"
	"math"
	"reflect"
	"slices"
	"strconv"
	"strings"
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
	figures(reflect.ValueOf(question), "", &errs)
	return errs.Err()
}

// floater is an exact number that keeps its figure to itself.
type floater interface{ Float() float64 }

func figures(v reflect.Value, at string, errs *Errors) {
	if len(*errs) >= mostFigures {
		return
	}
	look := func(x float64) {
		if m := Figure(x); m != "" {
			errs.Add(at, "%s", m)
		}
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
			figures(v.Index(i), under(at, strconv.Itoa(i)), errs)
		}
	case reflect.Map:
		keys := v.MapKeys()
		slices.SortFunc(keys, func(a, b reflect.Value) int { return strings.Compare(a.String(), b.String()) })
		for _, k := range keys {
			figures(v.MapIndex(k), under(at, fmt.Sprint(k)), errs)
		}
	case reflect.Struct:
		if f, ok := v.Interface().(floater); ok {
			if z, ok := v.Interface().(interface{ IsZero() bool }); !ok || !z.IsZero() {
				look(f.Float())
			}
			return
		}
		for i := range v.NumField() {
			f := v.Type().Field(i)
			if !f.IsExported() {
				continue
			}
			figures(v.Field(i), under(at, jsonName(f)), errs)
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
