package setting

// Step is one of the five steps of a period.
type Step string

// The steps in their order.
const (
	GatherStep  Step = "gather"
	CheckStep   Step = "check"
	AssessStep  Step = "assess"
	ExplainStep Step = "explain"
	PublishStep Step = "publish"
)

// Steps lists the steps of a period in their order.
func Steps() []Step { return []Step{GatherStep, CheckStep, AssessStep, ExplainStep, PublishStep} }

// usualDue are the working days after the as-of date by which the steps are due where the settings say nothing.
var usualDue = map[Step]int{GatherStep: 5, CheckStep: 6, AssessStep: 7, ExplainStep: 8, PublishStep: 10}

// StepDue is how many working days after the as-of date a step is due.
func (s *Settings) StepDue(step Step) int {
	if n, ok := s.StepsDue[step]; ok {
		return n
	}
	return usualDue[step]
}
