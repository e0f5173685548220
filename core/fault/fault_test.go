package fault

import (
	"errors"
	"testing"
)

func TestErrors(t *testing.T) {
	var list Errors
	if list.Err() != nil {
		t.Error("no fault is an error")
	}
	list.Add("parts/0/id", "at most %d characters", 40)
	list.Add("lies", "vehicle, boat or bench")
	err := list.Err()
	var back Errors
	if !errors.As(err, &back) || len(back) != 2 || back[0].Field != "parts/0/id" || back[0].Message != "at most 40 characters" {
		t.Errorf("%v", err)
	}
	if got, want := err.Error(), "parts/0/id: at most 40 characters; lies: vehicle, boat or bench"; got != want {
		t.Errorf("%q, want %q", got, want)
	}
	var one *Error
	if !errors.As(error(New("a/b", "%d %%", 5)), &one) || one.Error() != "a/b: 5 %" {
		t.Errorf("%v", one)
	}
}

// What was moved below a property is seen from it as before, one fault or many.
func TestUnderAndWithin(t *testing.T) {
	one := New("axle/ring", "at least one tooth")
	for _, err := range []error{one, Errors{one, New("", "nothing here")}} {
		back := Within("parts/3", Under("parts/3", err))
		if back.Error() != err.Error() {
			t.Errorf("%v came back as %v", err, back)
		}
	}
	for field, want := range map[string]string{"stage": "", "stage/held": "held", "stages/held": "stages/held", "other": "other"} {
		var e *Error
		if err := Within("stage", New(field, "no")); !errors.As(err, &e) || e.Field != want {
			t.Errorf("%q is %v from within, want %q", field, err, want)
		}
	}
	if other := errors.New("disk full"); Within("stage", other) != other || Under("stage", other) != other {
		t.Error("another error was touched")
	}
}
