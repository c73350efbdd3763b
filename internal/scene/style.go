package scene

import (
	"fmt"
	"sort"
	"strings"
)

// Style is how a class looks in print. Colours not set are nil, sizes and widths of 0 keep what was set before.
type Style struct {
	Stroke, Fill, Ink *RGB // Ink colours text
	Width, Size       float64
	Dash              []float64
	Bold              bool
}

var (
	paper     = colour("paper")
	ink       = colour("ink")
	soft      = colour("soft")
	rule      = colour("rule")
	verdigris = colour("accent")
	wash      = colour("wash")
	moss      = colour("moss")
	ochre     = colour("ochre")
	vermilion = colour("vermilion")
	slate     = colour("slate")
	mossWash  = colour("moss-wash")
	ochreWash = colour("ochre-wash")
	shade     = colour("band")
	pale      = colour("pale")
)

// Print is the look of every class outside pages. Pages have the same names in styles/scene.scss, which a test checks.
var Print = map[string]Style{
	"axis":        {Stroke: ink, Width: 0.8},
	"grid":        {Stroke: rule, Width: 0.4},
	"grid-strong": {Stroke: rule, Width: 0.8},
	"tail":        {Stroke: soft, Width: 1},
	"zero":        {Stroke: soft, Width: 0.5, Dash: []float64{1.5, 2}},
	"label":       {Ink: ink, Size: 11},
	"label-soft":  {Ink: soft, Size: 11},
	"label-bold":  {Ink: ink, Size: 12, Bold: true},
	"label-asof":  {Ink: verdigris, Size: 11},
	"box-good":    {Fill: mossWash},
	"box-watch":   {Fill: ochreWash},
	"band":        {Fill: shade},
	"chance":      {Fill: pale},
	"fan":         {Fill: ochreWash},
	"core":        {Fill: verdigris},
	"median":      {Stroke: ink, Width: 2},
	"curve-band":  {Fill: mossWash},
	"asof":        {Stroke: verdigris, Width: 1.4},
	"budget":      {Stroke: soft, Width: 1.2},
	"actual":      {Stroke: ink, Width: 2},
	"earned":      {Stroke: verdigris, Fill: verdigris, Width: 2},
	"range":       {Fill: ochreWash},
	"odds":        {Fill: slate},
	"estimate":    {Stroke: ink, Width: 1},
	"limit":       {Stroke: vermilion, Width: 0.8, Dash: []float64{3, 3}},
	"path":        {Stroke: soft, Width: 1},
	"then":        {Fill: soft},
	"now":         {Fill: verdigris},
	"point":       {},
	"second":      {Stroke: verdigris, Fill: verdigris, Width: 1.6},
	"third":       {Stroke: ochre, Fill: ochre, Width: 1.6},
	"fourth":      {Stroke: slate, Fill: slate, Width: 1.6, Dash: []float64{4, 3}},
	"forecast":    {Stroke: vermilion, Width: 1.4, Dash: []float64{4, 3}},
	"work-done":   {Fill: verdigris},
	"work-left":   {Fill: pale},
	"baseline":    {Fill: rule},
	"ghost":       {Fill: soft},
	"critical":    {Stroke: ink, Width: 1.6},
	"idle":        {Fill: shade},
	"tie":         {Stroke: soft, Width: 0.9},
	"strain":      {Stroke: vermilion, Width: 1.5, Dash: []float64{4, 2}},
	"slip":        {Width: 1.8},
	"quiet":       {},
	"light":       {},
	"trend":       {Stroke: slate, Width: 1.4, Dash: []float64{1.5, 3}},
	"hit":         {},
	"tick":        {Stroke: soft, Width: 1.2},
	"dot":         {Fill: ink},
	"gate":        {Fill: ink},
	"risk-1":      {Fill: colour("risk-1")},
	"risk-2":      {Fill: colour("risk-2")},
	"risk-3":      {Fill: colour("risk-3")},
	"risk-4":      {Fill: colour("risk-4")},
	"risk-5":      {Fill: colour("risk-5")},
	"risk-was":    {Stroke: soft, Fill: soft, Width: 0.8},
	"risk-aim":    {Stroke: verdigris, Fill: verdigris, Width: 1, Dash: []float64{3, 2}},
	"risk-dot":    {Fill: ink, Ink: paper, Size: 10},
	"chosen":      {Fill: verdigris, Ink: paper},
	"wash":        {Fill: wash},
	"on-track":    {Fill: moss, Stroke: moss, Ink: moss, Size: 11, Width: 1},
	"watch":       {Fill: ochre, Stroke: ochre, Ink: ochre, Size: 11, Width: 1},
	"blocked":     {Fill: paper, Stroke: vermilion, Width: 1.2},
	"act":         {Fill: vermilion, Stroke: vermilion, Ink: vermilion, Size: 11, Width: 1},
	"none":        {Stroke: slate, Fill: paper, Ink: slate, Size: 11, Width: 0.8, Dash: []float64{1.5, 1.5}},
	"outlined":    {Fill: paper},
	"cut":         {Stroke: paper, Width: 1.4},
}

// PrintCSS writes the looks of print as a style sheet, the classes in order.
func PrintCSS() string {
	names := make([]string, 0, len(Print))
	for name := range Print {
		names = append(names, name)
	}
	sort.Slice(names, func(i, j int) bool { // what is outlined is so whatever its status, so it comes last
		if a, b := names[i] == "outlined", names[j] == "outlined"; a != b {
			return b
		}
		return names[i] < names[j]
	})
	var b strings.Builder
	b.WriteString("text{font-family:'IBM Plex Sans Condensed',sans-serif;font-size:11px;stroke:none}line,polyline{fill:none}")
	for _, name := range names {
		st := Print[name]
		var css []string
		for _, x := range []struct {
			property string
			colour   *RGB
		}{{"fill", st.Fill}, {"stroke", st.Stroke}} {
			if x.colour != nil {
				css = append(css, fmt.Sprintf("%s:#%02x%02x%02x", x.property, x.colour.R, x.colour.G, x.colour.B))
			}
		}
		if st.Width > 0 {
			css = append(css, fmt.Sprintf("stroke-width:%g", st.Width))
		}
		if len(st.Dash) > 0 {
			css = append(css, "stroke-dasharray:"+strings.Trim(fmt.Sprint(st.Dash), "[]"))
		}
		fmt.Fprintf(&b, ".%s{%s}", name, strings.Join(css, ";"))
		weight := ""
		if st.Bold {
			weight = ";font-weight:600"
		}
		if st.Ink != nil {
			fmt.Fprintf(&b, "text.%s{fill:#%02x%02x%02x;stroke:none%s}", name, st.Ink.R, st.Ink.G, st.Ink.B, weight)
		}
		fmt.Fprintf(&b, "line.%[1]s,polyline.%[1]s{fill:none}", name)
	}
	return b.String()
}
