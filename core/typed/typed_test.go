package typed_test

import (
	"fmt"
	"testing"

	"zorvel/core/typed"
)

func ExamplePlain() {
	fmt.Println(typed.Plain(" ２３５／８５Ｒ１６ "))
	fmt.Println(typed.Plain("31 × 10.50–15″"))
	// Output:
	// 235/85r16
	// 31 x 10.50-15"
}

// What is plain stays as it is.
func TestPlainTwiceIsPlain(t *testing.T) {
	for _, s := range []string{"", "4 and a bit", "４ ½", "33×12.50 R15", "“H78—15”", "five\u00a0twenty-two", "É 4·10"} {
		once := typed.Plain(s)
		if again := typed.Plain(once); again != once {
			t.Errorf("%q becomes %q, then %q", s, once, again)
		}
	}
}
