package record

import (
	"strings"

	"turret/internal/core/write"
)

// heads are the columns whose head in words is not simply their name.
var heads = map[string]string{
	"report_to": "Reported to", "ev_method": "Earned by", "not_before": "Not before", "not_after": "Not after",
	"percent_complete": "Complete, %", "lag": "Lag, working days", "duration": "Duration, working days",
	"remaining": "Remaining, working days", "low": "Low, working days", "likely": "Likely, working days",
	"high": "High, working days", "probability": "Probability, %", "cost_impact": "Cost if it strikes",
	"days_impact": "Working days if it strikes", "from_risk": "From the risk", "percent": "Percent", "hours_per_day": "Hours a day",
	"utilisation_target": "Target utilisation, %", "from_project": "From project", "to_project": "To project", "review": "Next review",
	"schedule_mode": "Dates are", "earned_value": "Earned value", "currency": "Currency", "month": "Month", "finish": "Expected finish",
	"start":   "Expected start",
	"says":    "What it means",
	"trigger": "Wakes on", "trigger_when": "Wakes when", "blocks": "Blocks the activity", "raised": "Raised on", "closed": "Closed",
	"residual_days": "Residual working days", "residual_cost": "Residual cost", "residual_probability": "Residual probability, %",
	"capital_operating": "Type", "rate": "Rate", "node": "Portfolio or programme", "text": "Text",
	"decided_on": "Decided on", "decided_by": "Decided by", "raised_by": "Written by", "done_on": "Done on",
	"escalated_to":  "Escalated to",
	"escalated_why": "Escalated because", "about": "About", "asked_on": "State as of", "by": "By", "on": "On",
	"look_again": "Look again on",
}

// Head is what stands over a column where people read it: its name in words, with its unit.
func (c Column) Head() string {
	if c.Title != "" {
		return c.Title
	}
	if h, ok := heads[c.Name]; ok {
		return h
	}
	h := strings.ReplaceAll(c.Name, "_", " ")
	return strings.ToUpper(h[:1]) + h[1:]
}

// nouns are what single records are called, where a row is a record that people count.
var nouns = map[Kind][2]string{Risks: {"risk", "risks"}, Issues: {"issue", "issues"}, Actions: {"action", "actions"},
	Assignments: {"assignment", "assignments"}, Backlog: {"backlog item", "backlog items"}, Changes: {"change", "changes"},
	Links: {"dependency", "dependencies"}, Commitments: {"commitment", "commitments"}, Contacts: {"contact", "contacts"},
	Documents: {"document", "documents"},
	Checklist: {"step", "steps"}, Meetings: {"meeting", "meetings"}, Decisions: {"decision", "decisions"}, Lessons: {"lesson", "lessons"},
	ReadyRisks: {"ready risk", "ready risks"}, Outside: {"outside record", "outside records"},
	Attachments: {"attachment", "attachments"}, Proposals: {"proposal", "proposals"}, Goals: {"goal", "goals"},
	Contributions: {"contribution", "contributions"}, Criteria: {"criterion", "criteria"}, Ratings: {"rating", "ratings"},
	Requirements: {"requirement", "requirements"},
	Iterations:   {"iteration", "iterations"},
	Stages:       {"stage", "stages"}, GateNeeds: {"need of a gate", "needs of gates"}, Gates: {"gate", "gates"},
	OwnFields: {"field", "fields"}, Activities: {"activity", "activities"}}

// Noun is what n rows of the kind are called.
func (k Kind) Noun(n int) string {
	at := 1
	if n == 1 {
		at = 0
	}
	if words, ok := nouns[k]; ok {
		return words[at]
	}
	return [2]string{"row", "rows"}[at] + " of " + write.Within(k.Title())
}
