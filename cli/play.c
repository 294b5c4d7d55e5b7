/* play.c - `uvrek play`: run the expectations, in the simulator or on the chip's machine code.
 */
#include "played.h"
#include "typed.h"

#include "uvrek/firmware.h"
#include "uvrek/sheet.h"

#include <stdio.h>
#include <string.h>

struct options {
    gboolean as_json, as_tap, on_chip, why;
    gint seed;
    char *only, *picture, *type;
    char *tempo; /* NULL: each */
};

struct playing {
    const struct options *options;
    struct uvk_program *program;
    struct uvk_rig_options rig;
    uint8_t *image;
    uint16_t image_size;
    struct uvk_firmware *firmware; /* NULL: in the simulator */
    struct played played;
};

/* Each play has a keyboard of its own, fresh from the box. */
static struct uvk_rig *new_rig(const struct playing *playing, GError **error)
{
    const struct uvk_firmware *firmware = playing->firmware;

    return firmware != NULL ? uvk_rig_chip(playing->program, firmware->code, firmware->size,
                                           firmware->elf, &playing->rig, error)
                            : uvk_rig_native(playing->program, playing->image,
                                             playing->image_size, &playing->rig, error);
}

static bool is_wanted(const struct playing *playing, const struct uvk_play *play)
{
    const char *only = playing->options->only;

    return only == NULL || strstr(play->name, only) != NULL;
}

static unsigned count_wanted(const struct playing *playing)
{
    unsigned count = 0;

    for (const struct uvk_play *play = playing->program->plays; play != NULL;
         play = play->next) {
        count += is_wanted(playing, play);
    }
    return count;
}

static bool play_one(struct playing *playing, const struct uvk_play *play, GError **error)
{
    struct played *played = &playing->played;
    struct uvk_outcome outcome = {.play = play};
    struct uvk_rig *rig = new_rig(playing, error);
    int result = rig != NULL ? uvk_play_run(playing->program, rig, play, &outcome, error) : -1;

    uvk_rig_free(rig);
    if (result >= 0) {
        played->count++;
        played->failed += result == 0;
        played->form->play(played, &outcome);
        if (playing->options->picture != NULL &&
            !uvk_timeline_draw(playing->program, &outcome, playing->options->picture, error)) {
            result = -1;
        }
    }
    uvk_outcome_clear(&outcome);
    return result >= 0;
}

static bool play_all(struct playing *playing, GError **error)
{
    struct played *played = &playing->played;
    bool going = true;

    played->expected = count_wanted(playing);
    if (playing->options->only != NULL && played->expected == 0) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "no play has '%s' in its name",
                    playing->options->only);
        return false;
    }
    if (playing->options->picture != NULL && played->expected != 1) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                    "a picture shows one play; --only WORDS chooses it (%u plays now)",
                    played->expected);
        return false;
    }
    played->form->begin(played);
    for (const struct uvk_play *play = playing->program->plays; play != NULL && going;
         play = play->next) {
        going = !is_wanted(playing, play) || play_one(playing, play, error);
    }
    if (going) {
        played->form->end(played);
    }
    return going;
}

static struct uvk_rig *rig_for_typing(void *data, GError **error)
{
    return new_rig(data, error);
}

static bool type(struct playing *playing, GError **error)
{
    const struct options *options = playing->options;
    const struct typing_request request = {
        playing->program,
        options->type,
        options->tempo != NULL ? uvk_tempo_named(options->tempo) : NULL,
        (uint32_t)options->seed,
        options->on_chip,
        rig_for_typing,
        playing};

    return type_text(&request, playing->played.json, &playing->played.failed, error);
}

/* What the rigs run: the image, or firmware made of it. */
static bool prepare(struct playing *playing, GError **error)
{
    struct uvk_build_options options = {.folder = NULL};

    if (playing->options->on_chip) {
        playing->firmware = uvk_build(playing->program, &options, error);
        playing->played.chip = playing->program->board->chip->name;
        return playing->firmware != NULL;
    }
    playing->image = uvk_lower(playing->program, &playing->image_size);
    if (playing->image == NULL) {
        g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_WELL, "the keymap is too large");
    }
    return playing->image != NULL;
}

static int play(const char *path, const struct options *options)
{
    struct playing playing = {
        .options = options,
        .rig = {.seed = (uint32_t)options->seed, .bounce = UVK_BOUNCE_DEFAULT}};
    GError *error = NULL;
    int status;

    playing.program = load_program(path, true, &status);
    if (playing.program == NULL) {
        return status;
    }
    playing.played = (struct played){
        .program = playing.program,
        .form = options->as_json  ? &played_as_json
                : options->as_tap ? &played_as_tap
                                  : &played_for_people,
        .json = options->as_json ? json_object() : NULL,
        .why = options->why,
    };
    if (!prepare(&playing, &error) ||
        !(options->type != NULL ? type(&playing, &error) : play_all(&playing, &error))) {
        status = print_problem(error);
    } else {
        status = playing.played.failed > 0 ? STATUS_NOT_WELL : STATUS_WELL;
    }
    uvk_firmware_free(playing.firmware);
    g_free(playing.image);
    uvk_program_free(playing.program);
    return status;
}

/* Options that say different things about the same output. */
static bool options_agree(const struct options *options)
{
    const char *wrong =
        options->as_json && options->as_tap ? "--json and --tap are two forms"
        : options->type != NULL && (options->only != NULL || options->picture != NULL ||
                                    options->as_tap || options->why)
            ? "--type runs no plays: only --chip, --tempo, --seed and --json go with it"
        : options->tempo != NULL && options->type == NULL ? "--tempo is for --type"
        : options->tempo != NULL && uvk_tempo_named(options->tempo) == NULL
            ? "--tempo is one of: slow, steady, fast, racing"
            : NULL;

    if (wrong != NULL) {
        complain("%s", wrong);
    }
    return wrong == NULL;
}

static int run(int argc, char **argv)
{
    struct options options = {.seed = 1};
    const GOptionEntry entries[] = {
        {"chip", 0, 0, G_OPTION_ARG_NONE, &options.on_chip,
         "Build the firmware and run its machine code on a simulated chip", NULL},
        {"only", 0, 0, G_OPTION_ARG_STRING, &options.only,
         "Only the plays whose names contain WORDS", "WORDS"},
        {"why", 0, 0, G_OPTION_ARG_NONE, &options.why,
         "Tell all that happened: fingers, decisions (in the simulator), what the host saw",
         NULL},
        {"picture", 0, 0, G_OPTION_ARG_FILENAME, &options.picture,
         "Draw the play over time, as .svg or .png", "FILE"},
        {"type", 0, 0, G_OPTION_ARG_STRING, &options.type,
         "Type TEXT as a person would, and tell what came out", "TEXT"},
        {"tempo", 0, 0, G_OPTION_ARG_STRING, &options.tempo,
         "How fast to type: slow, steady, fast or racing (default: each of them)", "TEMPO"},
        {"seed", 0, 0, G_OPTION_ARG_INT, &options.seed,
         "How the contacts bounce, and the fingers of --type vary", "N"},
        {"json", 0, 0, G_OPTION_ARG_NONE, &options.as_json, "Print JSON, for other programs",
         NULL},
        {"tap", 0, 0, G_OPTION_ARG_NONE, &options.as_tap,
         "Print the Test Anything Protocol, for test runners", NULL},
        G_OPTION_ENTRY_NULL};
    const char *file;
    int status;

    if (!parse_options(&command_play, entries, &argc, &argv, &status)) {
        return status;
    }
    file = only_file(&command_play, argc, argv);
    status = file != NULL && options_agree(&options) ? play(file, &options) : STATUS_NOT_DONE;
    g_free(options.only);
    g_free(options.picture);
    g_free(options.type);
    g_free(options.tempo);
    return status;
}

const struct command command_play = {"play", "FILE",
                                     "Run the plays of a keymap on a simulated keyboard.",
                                     "uvrek play --chip boards/subtitle-desk.uvk", run};
