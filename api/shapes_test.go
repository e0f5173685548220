package api_test

import (
	"encoding/json"
	"reflect"
	"sort"
	"strings"
	"testing"

	"github.com/getkin/kin-openapi/openapi3"

	"zorvel/api"
	"zorvel/core/changegear"
	"zorvel/core/driveline"
	"zorvel/core/driveline/network"
	"zorvel/core/driveline/play"
	"zorvel/core/findfault"
	"zorvel/core/gearcase"
	"zorvel/core/identify"
	"zorvel/core/marks"
	"zorvel/core/regear"
	"zorvel/core/setup"
	"zorvel/core/shim"
	"zorvel/core/speedo"
	"zorvel/core/workcard"
)

// roots are the contract's types whose shape the core gives; everything that
// hangs under them is walked.
var roots = map[string]any{
	"DrivelineRequest":      api.DrivelineRequest{},
	"TractionRequest":       api.TractionRequest{},
	"DrivelineAnswer":       api.DrivelineAnswer{},
	"Traction":              api.Traction{},
	"Layout":                api.Layout{},
	"TireRequest":           api.TireRequest{},
	"TireResult":            api.TireResult{},
	"RegearRequest":         api.RegearRequest{},
	"RegearPlan":            api.RegearPlan{},
	"SpeedoRequest":         api.SpeedoRequest{},
	"SpeedoAnswer":          api.SpeedoAnswer{},
	"CatalogInfo":           api.CatalogInfo{},
	"IdentifyRequest":       api.IdentifyRequest{},
	"Verdict":               api.Verdict{},
	"Echo":                  api.Echo{},
	"EchoRequest":           api.EchoRequest{},
	"DocumentEntry":         api.DocumentEntry{},
	"Knowledge":             api.Knowledge{},
	"ChangeGearsRunRequest": api.ChangeGearsRunRequest{},
	"ChangeGearsAnswer":     api.ChangeGearsAnswer{},
	"ChangeGearsRun":        api.ChangeGearsRun{},
	"GearcaseAnswer":        api.GearcaseAnswer{},
	"GearcaseVerdict":       api.GearcaseVerdict{},
	"GearcaseLooks":         api.GearcaseLooks{},
	"PropAnswer":            api.PropAnswer{},
	"DriveQuestion":         api.DriveQuestion{},
	"DriveAnswer":           api.DriveAnswer{},
	"LiveQuestion":          api.LiveQuestion{},
	"LiveTold":              api.LiveTold{},
	"InstrumentsRecorded":   api.InstrumentsRecorded{},
	"PracticeQuestion":      api.PracticeQuestion{},
	"PracticeScene":         api.PracticeScene{},
	"DrillQuestion":         api.DrillQuestion{},
	"DrillCard":             api.DrillCard{},
	"PracticeResults":       api.PracticeResults{},
	"PracticeBoard":         api.PracticeBoard{},
	"SetupAnswer":           api.SetupAnswer{},
	"SetupQuestion":         api.SetupQuestion{},
	"FitsAnswer":            api.FitsAnswer{},
	"FreePlayAnswer":        api.FreePlayAnswer{},
	"ExperienceOffer":       api.ExperienceOffer{},
	"FaultQuestion":         api.FaultQuestion{},
	"FaultAnswer":           api.FaultAnswer{},
	"FaultComplaint":        api.FaultComplaint{},
	"FaultSign":             api.FaultSign{},
	"FaultFirstQuestion":    api.FaultFirstQuestion{},
	"FaultFirstAnswer":      api.FaultFirstAnswer{},
	"FaultShockQuestion":    api.FaultShockQuestion{},
	"FaultShockAnswer":      api.FaultShockAnswer{},
	"FaultRecord":           api.FaultRecord{},
	"StampHeard":            api.StampHeard{},
	"ShiftMechanism":        api.ShiftMechanism{},
	"ServiceAnswer":         api.ServiceAnswer{},
	"ToothMarks":            api.ToothMarks{},
	"ToothCountOnPhoto":     api.ToothCountOnPhoto{},
	"TeethOnPhoto":          api.TeethOnPhoto{},
	"SoundAnswer":           api.SoundAnswer{},
	"SoundReading":          api.SoundReading{},
	"SoundVehicle":          api.SoundVehicle{},
	"SightPoint":            api.SightPoint{},
	"SightBox":              api.SightBox{},
	"ShiftAnswer":           api.ShiftAnswer{},
	"CardRun":               api.CardRun{},
	"CardDocument":          api.CardDocument{},
	"NewDecision":           api.NewDecision{},
}

// TestCoreKeepsTheContract holds every value that the core reads or writes to
// the contract: the same fields, and always there where the contract says so.
func TestCoreKeepsTheContract(t *testing.T) {
	doc, err := openapi3.NewLoader().LoadFromData(api.Spec)
	if err != nil {
		t.Fatal(err)
	}
	w := walk{t: t, seen: map[string]bool{}}
	for name, v := range roots {
		ref := doc.Components.Schemas[name]
		if ref == nil {
			t.Errorf("the contract has no %s", name)
			continue
		}
		w.hold(name, reflect.TypeOf(v), ref)
	}
	for name, ref := range doc.Components.Schemas {
		typ, _ := ref.Value.Extensions["x-go-type"].(string)
		if typ != "" && !strings.HasPrefix(typ, "json.") && len(ref.Value.Properties) > 0 && !w.seen[typ] {
			t.Errorf("%s is %s, and hangs under none of the roots", name, typ)
		}
	}
	if len(w.seen) < 80 {
		t.Errorf("walked %d types", len(w.seen))
	}
}

type walk struct {
	t    *testing.T
	seen map[string]bool
}

var marshaler = reflect.TypeFor[json.Marshaler]()

func (w walk) hold(path string, typ reflect.Type, ref *openapi3.SchemaRef) {
	for typ.Kind() == reflect.Pointer {
		typ = typ.Elem()
	}
	s := ref.Value
	for len(s.AllOf) == 1 {
		s = s.AllOf[0].Value
	}
	switch {
	case typ.Implements(marshaler): // in its own words; held by its own tests
		w.seen[typ.String()] = true
	case typ.Kind() == reflect.Slice:
		if s.Items == nil {
			w.t.Errorf("%s: %s is a list, and not in the contract", path, typ)
			return
		}
		w.hold(path+"[]", typ.Elem(), s.Items)
	case typ.Kind() == reflect.Map:
		if a := s.AdditionalProperties.Schema; a != nil {
			w.hold(path+"{}", typ.Elem(), a)
		}
	case typ.Kind() == reflect.Struct:
		if w.seen[typ.String()] {
			return
		}
		w.seen[typ.String()] = true
		w.fields(path+" ("+typ.String()+")", typ, s)
	case len(s.Properties) > 0:
		w.t.Errorf("%s: %s where the contract has an object", path, typ)
	}
}

func (w walk) fields(path string, typ reflect.Type, s *openapi3.Schema) {
	required := map[string]bool{}
	for _, r := range s.Required {
		required[r] = true
	}
	answers := s.AdditionalProperties.Has == nil // questions are closed
	got := map[string]bool{}
	var look func(reflect.Type)
	look = func(typ reflect.Type) {
		for i := range typ.NumField() {
			f := typ.Field(i)
			tag, opts, _ := strings.Cut(f.Tag.Get("json"), ",")
			switch {
			case f.Anonymous && tag == "":
				look(f.Type)
				continue
			case !f.IsExported() || tag == "-":
				continue
			}
			got[tag] = true
			p := s.Properties[tag]
			if p == nil {
				w.t.Errorf("%s.%s is not in the contract", path, tag)
				continue
			}
			if omits := strings.Contains(opts, "omit"); answers && omits == required[tag] {
				w.t.Errorf("%s.%s: may be left out is %v, required is %v", path, tag, omits, required[tag])
			}
			w.hold(path+"."+tag, f.Type, p)
		}
	}
	look(typ)
	var lost []string
	for p := range s.Properties {
		if !got[p] {
			lost = append(lost, p)
		}
	}
	sort.Strings(lost)
	if len(lost) > 0 {
		w.t.Errorf("%s lacks %s", path, strings.Join(lost, ", "))
	}
}

// TestOneLimitPerThing: what the core bounds, the contract bounds alike.
func TestOneLimitPerThing(t *testing.T) {
	doc, err := openapi3.NewLoader().LoadFromData(api.Spec)
	if err != nil {
		t.Fatal(err)
	}
	for path, want := range map[string]int{
		"DrivelineDocument.parts": driveline.MaxParts, "PartGearbox.gears": driveline.MaxGears, "RegearPlain.gears": driveline.MaxGears,
		"Network.shafts": network.MaxAsked, "Network.elements": 2 * network.MaxAsked,
		"IdentifyRequest.readings": identify.MaxReadings, "DocumentStage.readings": identify.MaxReadings,
		"RegearRequest.speeds_kmh": regear.MaxSpeeds, "RegearRequest.torque": regear.MaxPoints,
		"RegearShop.sets": regear.MaxRows, "RegearShop.tires": regear.MaxRows, "RegearShop.rule": regear.MaxRows,
		"RegearShop.factory": regear.MaxRows, "RegearShop.prices": regear.MaxRows,
		"RegearShop.low_sets": regear.MaxRangeSets, "RegearShop.high_sets": regear.MaxRangeSets,
		"SpeedoMechanical.speeds_kmh": speedo.MaxSpeeds, "SpeedoMechanical.drives": speedo.MaxGears, "SpeedoMechanical.driven": speedo.MaxGears,
		"SpeedoMechanical.housings": speedo.MaxGears, "SpeedoMechanical.adapters": speedo.MaxGears,
		"ChangeGearsRequest.shelf": changegear.MaxSets, "ChangeGearsRequest.gears": driveline.MaxGears,
		"GearcaseRequest.places": shim.MaxPlaces, "GearcaseRequest.shims": shim.MaxSizes, "GearcaseBacklash.shims": shim.MaxSizes,
		"GearcaseBacklash.assemblies": gearcase.MostAssemblies, "GearcaseAssembly.readings_mm": gearcase.MostReadings,
		"SetupAxle.trials": setup.MostTrials, "SetupAxle.figures": setup.MostFigures, "FreePlay.measured": play.MostRocked,
		"FreePlay.plays":         play.MostPlays,
		"FaultQuestion.evidence": findfault.MostEvidence, "FaultFirstQuestion.broken": findfault.MostBroken, "ToothMarks.points": marks.MostMarks, "WorkCard.steps": workcard.MostSteps, "WorkCard.conditions": workcard.MostConditions,
		"SpeedoVerify.runs": speedo.MaxRuns, "SpeedoVerify.noted": speedo.MaxNoted,
	} {
		schema, prop, _ := strings.Cut(path, ".")
		p := doc.Components.Schemas[schema].Value.Properties[prop]
		if p == nil || p.Value.MaxItems == nil || *p.Value.MaxItems != uint64(want) {
			t.Errorf("%s: the contract's bound is not the core's %d", path, want)
		}
	}
}
