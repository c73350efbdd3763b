package page

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/access"
	"turret/internal/app/setting"
	"turret/internal/record"
)

// The office works at all five steps, a lead at two, and an executive waits for one; nobody signed in sees none.
func TestWhoseStepsAreShown(t *testing.T) {
	for role, want := range map[access.Role][]setting.Step{
		access.Analyst:       {setting.GatherStep, setting.CheckStep, setting.AssessStep, setting.ExplainStep, setting.PublishStep},
		access.Administrator: {setting.GatherStep, setting.CheckStep, setting.AssessStep, setting.ExplainStep, setting.PublishStep},
		access.Lead:          {setting.GatherStep, setting.ExplainStep},
		access.Executive:     {setting.PublishStep},
	} {
		assert.Equal(t, want, stepsOf(&access.Actor{Role: role}), role)
	}
	assert.Empty(t, stepsOf(nil))
	for _, step := range setting.Steps() {
		assert.NotEmpty(t, stepPath[step][0], "%s leads somewhere", step)
	}
}

func TestUnderWhichTabAKindIsRead(t *testing.T) {
	for kind, want := range map[record.Kind]string{record.Issues: RiskTab, record.Assignments: PeopleTab, record.Backlog: BacklogTab,
		record.Benefits: BenefitTab, record.Budget: RecordTab, record.Activities: RecordTab} {
		assert.Equal(t, want, TabOfKind(kind), kind)
	}
}
