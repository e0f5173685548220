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
