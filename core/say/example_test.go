package say_test

import (
	"fmt"

	"zorvel/core/say"
)

func Example() {
	fmt.Println(say.Trim(2.50, 2), say.Signed(0.271, 2), say.Trim(-0.066, 2))
	fmt.Println("the", say.Small("Rear axle"), "turns")
	// Output:
	// 2.5 +0.27 −0.07
	// the rear axle turns
}
