package parts

import (
	"fmt"
	"reflect"
	"strconv"
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/exact"
)

// A part's figures on one line, for CSV: "ring=41; pinion=10;
// differential.type=open". Gears are gear.NAME=RATIO, DRIVE:DRIVEN,
// DRIVE:DRIVEN:IDLER or direct, and "dog" or "sliding" behind a space.

var figureType = reflect.TypeFor[exact.Figure]()

// specOf is the property of a part that is named like its kind; a nil value
// for a kind without one.
func specOf(p *driveline.Part) reflect.Value {
	v := reflect.ValueOf(p).Elem()
	for i := range v.NumField() {
		if tagName(v.Type().Field(i)) == p.Kind && v.Field(i).Kind() == reflect.Pointer {
			if v.Field(i).IsNil() {
				v.Field(i).Set(reflect.New(v.Field(i).Type().Elem()))
			}
			return v.Field(i).Elem()
		}
	}
	return reflect.Value{}
}

func tagName(f reflect.StructField) string {
	name, _, _ := strings.Cut(f.Tag.Get("json"), ",")
	return name
}

// figuresOf writes a part's figures.
func figuresOf(p driveline.Part) string {
	var out []string
	if spec := specOf(&p); spec.IsValid() {
		flattenFigures(spec, "", &out)
	}
	if p.RatedNM > 0 {
		out = append(out, "rated_nm="+strconv.FormatFloat(p.RatedNM, 'f', -1, 64))
	}
	if p.Family != "" {
		out = append(out, "family="+strings.NewReplacer(";", ",", "=", "-").Replace(p.Family))
	}
	return strings.Join(out, "; ")
}

func flattenFigures(v reflect.Value, prefix string, out *[]string) {
	for i := range v.NumField() {
		name, f := tagName(v.Type().Field(i)), v.Field(i)
		if f.Kind() == reflect.Pointer {
			if f.IsNil() {
				continue
			}
			f = f.Elem()
		}
		switch {
		case v.Type().Field(i).Anonymous:
			flattenFigures(f, prefix, out)
		case f.Type() == figureType:
			if x := f.Interface().(exact.Figure); !x.IsZero() {
				*out = append(*out, prefix+name+"="+x.String())
			}
		case f.Kind() == reflect.Slice:
			for _, g := range f.Interface().([]driveline.Gear) {
				*out = append(*out, "gear."+g.Name+"="+gearFigure(g))
			}
		case f.Kind() == reflect.Struct:
			flattenFigures(f, prefix+name+".", out)
		case !f.IsZero():
			*out = append(*out, fmt.Sprintf("%s%s=%v", prefix, name, f.Interface()))
		}
	}
}

func gearFigure(g driveline.Gear) string {
	s := "?"
	switch {
	case g.Direct:
		s = "direct"
	case g.Drive > 0 && g.Idler > 0:
		s = fmt.Sprintf("%d:%d:%d", g.Drive, g.Driven, g.Idler)
	case g.Drive > 0:
		s = fmt.Sprintf("%d:%d", g.Drive, g.Driven)
	case !g.Ratio.IsZero():
		s = g.Ratio.String()
	}
	if g.Selector != "" && g.Selector != "synchro" {
		s += " " + g.Selector
	}
	return s
}

// readFigures puts figures into a part of its kind. The error says what would
// be right.
func readFigures(p *driveline.Part, text string) error {
	spec := specOf(p)
	for _, item := range strings.Split(text, ";") {
		item = strings.TrimSpace(item)
		if item == "" {
			continue
		}
		key, value, ok := strings.Cut(item, "=")
		key, value = strings.TrimSpace(key), strings.TrimSpace(value)
		if !ok || value == "" {
			return fmt.Errorf("%q: write name=value, for example ring=41", item)
		}
		if key == "rated_nm" {
			n, err := strconv.ParseFloat(value, 64)
			if err != nil {
				return fmt.Errorf("rated_nm=%s: enter a number", value)
			}
			p.RatedNM = n
			continue
		}
		if key == "family" {
			p.Family = value
			continue
		}
		if !spec.IsValid() {
			return fmt.Errorf("a %s has no figures", p.Kind)
		}
		if name, isGear := strings.CutPrefix(key, "gear."); isGear && p.Gearbox != nil {
			g, err := readGear(name, value)
			if err != nil {
				return err
			}
			p.Gearbox.Gears = append(p.Gearbox.Gears, g)
			continue
		}
		if err := setFigure(spec, key, value); err != nil {
			return fmt.Errorf("%s of a %s: %w", key, p.Kind, err)
		}
	}
	return nil
}

func readGear(name, value string) (driveline.Gear, error) {
	g := driveline.Gear{Name: name}
	figure, selector, _ := strings.Cut(value, " ")
	g.Selector = strings.TrimSpace(selector)
	if figure == "direct" {
		g.Direct = true
		return g, nil
	}
	if figure == "?" {
		return g, nil
	}
	if counts := strings.Split(figure, ":"); len(counts) > 1 {
		into := []*int{&g.Drive, &g.Driven, &g.Idler}
		for i, c := range counts {
			n, err := strconv.Atoi(c)
			if err != nil || i > 2 {
				return g, fmt.Errorf("gear.%s=%s: teeth as drive:driven or drive:driven:idler, for example 17:36", name, value)
			}
			*into[i] = n
		}
		return g, nil
	}
	r, err := exact.Parse(figure)
	if err != nil {
		return g, fmt.Errorf("gear.%s=%s: a ratio (3.54), teeth (17:36) or direct", name, value)
	}
	g.Ratio = exact.Figure{Number: r}
	return g, nil
}

func setFigure(v reflect.Value, key, value string) error {
	head, rest, deeper := strings.Cut(key, ".")
	for i := range v.NumField() {
		if v.Type().Field(i).Anonymous {
			if setFigure(v.Field(i), key, value) == nil {
				return nil
			}
			continue
		}
		if tagName(v.Type().Field(i)) != head {
			continue
		}
		f := v.Field(i)
		if f.Kind() == reflect.Pointer {
			if f.IsNil() {
				f.Set(reflect.New(f.Type().Elem()))
			}
			f = f.Elem()
		}
		switch {
		case f.Type() == figureType:
			r, err := exact.Parse(value)
			if err != nil {
				return err
			}
			f.Set(reflect.ValueOf(exact.Figure{Number: r}))
		case f.Kind() == reflect.Struct && deeper:
			return setFigure(f, rest, value)
		case f.Kind() == reflect.String:
			f.SetString(value)
		case f.Kind() == reflect.Bool:
			if value != "true" && value != "false" {
				return fmt.Errorf("true or false, not %q", value)
			}
			f.SetBool(value == "true")
		case f.Kind() == reflect.Int:
			n, err := strconv.Atoi(value)
			if err != nil {
				return fmt.Errorf("a whole number, not %q", value)
			}
			f.SetInt(int64(n))
		case f.Kind() == reflect.Float64:
			x, err := strconv.ParseFloat(value, 64)
			if err != nil {
				return fmt.Errorf("a number, not %q", value)
			}
			f.SetFloat(x)
		default:
			return fmt.Errorf("write the figure itself, for example %s.type=open", head)
		}
		return nil
	}
	return fmt.Errorf("no such figure")
}
