package shift

import (
	"fmt"
	"testing"
)
func TestTable(t *testing.T){ c:=Chances(); for _,f:=range append([]string{""},Faults...){ fmt.Printf("%-12s %.3v\n",f,c[f]) } 
a,_:=Work(Mechanism{Switch:"closed"}); fmt.Printf("%+v\n",a)}
