package setting

import (
	"context"
	"fmt"
	"slices"
	"unicode/utf8"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/core/write"
	"turret/internal/record"
)

// FormPart is what the form of a proposal asks for beyond its name, its purpose and its programme.
type FormPart struct {
	Part     string `json:"part"`           // one of FormParts, or own.KEY for a field of one's own
	Help     string `json:"help,omitempty"` // what stands beside it
	Required bool   `json:"required,omitempty"`
}

// The parts of the form of a proposal.
const (
	PartCategory = "category"
	PartDates    = "dates"
	PartCost     = "cost"
	PartGoals    = "goals"
	PartPeople   = "people"
	PartBenefits = "benefits"
	PartRisks    = "risks"
	PartNeeds    = "needs"
)

// FormParts are the parts that a form can be composed of, in their usual order.
func FormParts() []string {
	return []string{PartCategory, PartDates, PartCost, PartGoals, PartPeople, PartBenefits, PartRisks, PartNeeds}
}

// mostHelp bounds what stands beside a part.
const mostHelp = 400

// ProposalParts are the parts of the form, in their order; as shipped where none was composed.
func (s *Settings) ProposalParts() []FormPart {
	if s.ProposalForm != nil {
		return s.ProposalForm
	}
	return []FormPart{{Part: PartDates}, {Part: PartCost}, {Part: PartGoals}}
}

func (s *Settings) checkForm() error {
	seen := map[string]bool{}
	for _, x := range s.ProposalForm {
		column := record.Column{Name: x.Part}
		_, own := column.Own()
		switch {
		case !own && !slices.Contains(FormParts(), x.Part):
			return fault.Field("part of the form", fault.Clip(x.Part, 40), fmt.Sprint("own.KEY or one of ", FormParts()))
		case seen[x.Part]:
			return fault.Field("part of the form", x.Part, "each part once")
		case utf8.RuneCountInString(x.Help) > mostHelp:
			return fault.Field("help of "+x.Part, fault.Clip(x.Help, 40), fmt.Sprintf("at most %d letters", mostHelp))
		}
		seen[x.Part] = true
	}
	return nil
}

// partsText names parts in their order.
func partsText(parts []FormPart) string {
	var list []string
	for _, p := range parts {
		name := p.Part
		if p.Required {
			name += " (has to be answered)"
		}
		list = append(list, name)
	}
	if len(list) == 0 {
		return "nothing but what is always asked"
	}
	return write.List(list)
}

// ComposeForm has the form of a proposal ask for some parts, in their order. Was are the parts that it asked for when that was decided;
// where it asks for others by now nothing is changed, and the error is a *fault.StateError. Nil asks for nothing.
func (o *Office) ComposeForm(ctx context.Context, parts, was []FormPart) error {
	if _, err := access.PermitWhole(ctx, access.Judge); err != nil {
		return err
	}
	s, err := o.Now(ctx)
	if err != nil {
		return err
	}
	if was != nil && !slices.Equal(was, s.ProposalParts()) {
		return fault.Conflict("Somebody else composed the form meanwhile, which now asks for %s. Yours is kept below: compose again to "+
			"put it in its place", partsText(s.ProposalParts()))
	}
	next := *s
	next.ProposalForm = parts
	return o.Keep(ctx, &next, "compose the form of proposals")
}
