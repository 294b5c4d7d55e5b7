/* steps.c - what is typed at the bench: the steps of plays. */
#include "received.h"
#include "workbench.h"

#include "uvrek/explain.h"

#include <stdio.h>
#include <string.h>

static bool is_expectation(const struct uvk_step *step)
{
    return step->kind >= UVK_STEP_EXPECT_TEXT;
}

/* A finger's step is followed by the time that it takes to reach the host. */
#define REACH_US 15000u

static bool do_step(struct workbench *workbench, const struct uvk_step *step, GError **error)
{
    struct uvk_outcome outcome = {.play = NULL};
    int result = uvk_step_run(workbench->program, workbench->rig, step, &outcome, error);

    if (result == 0) {
        workbench->failed++;
        printf("failed: expected %s, got %s\n", outcome.expected, outcome.got);
    } else if (result == 1 && is_expectation(step)) {
        puts("passed");
    }
    if (result == 1 && (step->kind == UVK_STEP_DOWN || step->kind == UVK_STEP_UP) &&
        !uvk_rig_run(workbench->rig, REACH_US, error)) {
        result = -1;
    }
    uvk_outcome_clear(&outcome);
    return result >= 0;
}

/* What can be typed, with what it means. */
static void print_steps(void)
{
    size_t count;
    const struct uvk_word *words = uvk_words(&count);

    for (size_t i = 0; i < count; i++) {
        if (strcmp(words[i].where, "in a play") == 0) {
            puts(words[i].what);
        }
    }
}

static bool asks_for_help(const char *line)
{
    return strncmp(line, "help", 4) == 0 && line[4 + strspn(line + 4, " ")] == '\0';
}

/* What is wrong between the halves, or is well again. */
static void tell_trouble(struct workbench *workbench)
{
    const char *trouble = uvk_rig_trouble(workbench->rig);

    if (trouble != workbench->trouble) {
        puts(trouble != NULL ? trouble : "the halves understand one another again");
    }
    workbench->trouble = trouble;
}

bool workbench_line(struct workbench *workbench, const char *line, GError **error)
{
    struct uvk_messages messages;
    const struct uvk_step *step;
    bool going = true;

    if (asks_for_help(line)) {
        print_steps();
        return true;
    }
    uvk_messages_init(&messages);
    step = uvk_step_read(workbench->program, line, &messages);
    if (messages.errors > 0) {
        print_messages(&messages);
        workbench->failed++;
    } else if (step != NULL) {
        going = do_step(workbench, step, error);
        if (going && !is_expectation(step)) {
            print_received(workbench->rig, &workbench->seen, workbench->text);
            tell_trouble(workbench);
        }
    }
    uvk_messages_clear(&messages);
    return going;
}
