/* serve.c - a chip on the bench that is in its bootloader: a serial port, a drive or DFU, as
 * its board has it, until it starts what it was given. */
#include "workbench.h"

#include <stdio.h>
#include <string.h>

#define LOOK_MS  5       /* between two looks into the drive, or at the clock */
#define AWAY_US  1000000 /* until somebody presses reset, or has moved a cable */
#define TRIED_US 8000000 /* after a fault: whoever met it has given up by then */

void plug_keyboard(struct workbench *workbench)
{
    if (workbench->server != NULL) {
        workbench->gadget = uvk_rig_gadget(workbench->rig);
        uvk_usbip_plug(workbench->server, &workbench->gadget);
        workbench->passed = g_get_monotonic_time();
    }
}

void unplug_all(struct workbench *workbench)
{
    if (workbench->server != NULL) {
        uvk_usbip_plug(workbench->server, NULL);
    }
}

/* ---- the three kinds -------------------------------------------------------------------- */

/* How a bootloader is shown, looked after, and what it knows. */
struct kind {
    const char *text; /* what is there, while it is there */
    bool (*show)(struct workbench *workbench, GError **error);
    void (*hide)(struct workbench *workbench, bool mended); /* and what is told of faults */
    void (*serve)(struct workbench *workbench);
    bool (*left)(const struct workbench *workbench);
    bool (*heard)(const struct workbench *workbench);  /* somebody has spoken to it */
    bool (*struck)(const struct workbench *workbench); /* a fault has happened */
    uint8_t *(*flash)(struct workbench *workbench);
};

static bool show_port(struct workbench *workbench, GError **error)
{
    uvk_bootloader_begin(&workbench->bootloader, false);
    return uvk_terminal_show(workbench->terminal, error);
}

static void hide_port(struct workbench *workbench, bool mended)
{
    uvk_bootloader_begin(&workbench->bootloader, mended);
    uvk_terminal_hide(workbench->terminal);
}

static void serve_port(struct workbench *workbench)
{
    struct pollfd ready = {uvk_terminal_file(workbench->terminal), POLLIN, 0};

    if (poll(&ready, 1, LOOK_MS) > 0) {
        uvk_terminal_serve(workbench->terminal, &workbench->bootloader);
    }
    if (workbench->bootloader.cut) {
        uvk_terminal_hide(workbench->terminal);
    }
}

static bool port_left(const struct workbench *workbench)
{
    return workbench->bootloader.left;
}

static bool port_heard(const struct workbench *workbench)
{
    return workbench->bootloader.heard > 0;
}

static bool port_struck(const struct workbench *workbench)
{
    return workbench->bootloader.struck;
}

static uint8_t *port_flash(struct workbench *workbench)
{
    return workbench->bootloader.flash;
}

static bool show_drive(struct workbench *workbench, GError **error)
{
    return uvk_drive_show(workbench->drive, error);
}

static void hide_drive(struct workbench *workbench, bool mended)
{
    uvk_drive_hide(workbench->drive, mended);
}

static void serve_drive(struct workbench *workbench)
{
    g_usleep(1000); /* a copy takes no longer than a few of those */
    uvk_drive_serve(workbench->drive);
}

static bool drive_left(const struct workbench *workbench)
{
    return uvk_drive_left(workbench->drive);
}

static bool drive_heard(const struct workbench *workbench)
{
    return uvk_drive_heard(workbench->drive);
}

static bool drive_struck(const struct workbench *workbench)
{
    return uvk_drive_struck(workbench->drive);
}

static uint8_t *drive_flash(struct workbench *workbench)
{
    return uvk_drive_flash(workbench->drive);
}

static bool show_dfu(struct workbench *workbench, GError **error)
{
    (void)error;
    uvk_dfu_boot_begin(workbench->dfu, false);
    uvk_usbip_plug(workbench->server, uvk_dfu_boot_gadget(workbench->dfu));
    return true;
}

static void hide_dfu(struct workbench *workbench, bool mended)
{
    uvk_dfu_boot_begin(workbench->dfu, mended);
    unplug_all(workbench);
}

static void serve_dfu(struct workbench *workbench)
{
    struct pollfd files[UVK_USBIP_FILES];
    unsigned count = uvk_usbip_files(workbench->server, files);

    (void)poll(files, count, LOOK_MS);
    uvk_usbip_serve(workbench->server);
    if (uvk_dfu_boot_vanished(workbench->dfu)) {
        unplug_all(workbench);
    }
}

static bool dfu_left(const struct workbench *workbench)
{
    return uvk_dfu_boot_left(workbench->dfu);
}

static bool dfu_heard(const struct workbench *workbench)
{
    return uvk_dfu_boot_heard(workbench->dfu);
}

static bool dfu_struck(const struct workbench *workbench)
{
    return uvk_dfu_boot_struck(workbench->dfu);
}

static uint8_t *dfu_flash(struct workbench *workbench)
{
    return uvk_dfu_boot_flash(workbench->dfu);
}

#define KIND(text, name)                                                                       \
    {                                                                                          \
        (text), show_##name, hide_##name, serve_##name, name##_left, name##_heard,             \
            name##_struck, name##_flash                                                        \
    }
static const struct kind port_kind = KIND("its serial port is there", port);
static const struct kind drive_kind = KIND("its drive is there", drive);
static const struct kind dfu_kind = KIND("it is on USB in DFU mode", dfu);

static const struct kind *kind_of(const struct workbench *workbench)
{
    return workbench->dfu != NULL     ? &dfu_kind
           : workbench->drive != NULL ? &drive_kind
                                      : &port_kind;
}

/* ---- from its start to its end ---------------------------------------------------------- */

static bool show(struct workbench *workbench, const struct kind *kind, GError **error)
{
    if (!kind->show(workbench, error)) {
        return false;
    }
    printf("the chip is in its bootloader, %s\n", kind->text);
    (void)fflush(stdout);
    return true;
}

/* It goes, and somebody presses reset. MENDED: what was wrong is no longer. */
static bool go_and_come(struct workbench *workbench, const struct kind *kind, bool mended,
                        GError **error)
{
    puts(mended ? "somebody unplugs the board, and plugs it in again"
                : "the bootloader has not been spoken to, and has gone");
    (void)fflush(stdout);
    kind->hide(workbench, mended);
    g_usleep(AWAY_US);
    return show(workbench, kind, error);
}

static gint64 since(gint64 moment)
{
    return g_get_monotonic_time() - moment;
}

/* Until it has been given a firmware and has started that. */
static bool wait_until_left(struct workbench *workbench, const struct kind *kind,
                            GError **error)
{
    const gint64 stays = (gint64)workbench->stays * 1000;
    gint64 shown = g_get_monotonic_time();
    gint64 well = shown; /* the last moment without a fault */
    bool good = true;

    while (good && !kind->left(workbench)) {
        bool bored = stays > 0 && !kind->heard(workbench) && since(shown) >= stays;
        bool broken = kind->struck(workbench) && since(well) >= TRIED_US;
        if (bored || broken) {
            good = go_and_come(workbench, kind, broken, error);
            shown = g_get_monotonic_time();
        }
        kind->serve(workbench);
        well = kind->struck(workbench) ? well : g_get_monotonic_time();
    }
    return good;
}

static size_t flash_size(const struct workbench *workbench)
{
    const struct uvk_chip *chip = workbench->program->board->chip;

    return chip->flash - chip->bootloader;
}

/* The chip of HALF, until it has left its bootloader; what it holds then is kept. */
static bool serve_half(struct workbench *workbench, unsigned half, GError **error)
{
    const struct kind *kind = kind_of(workbench);
    uint8_t *flash = kind->flash(workbench);
    size_t size = flash_size(workbench);

    if (workbench->flashes[half] != NULL) {
        memcpy(flash, workbench->flashes[half], size);
    } else {
        memset(flash, 0xFF, size);
    }
    if (!show(workbench, kind, error) || !wait_until_left(workbench, kind, error)) {
        return false;
    }
    unplug_all(workbench);
    g_free(workbench->flashes[half]);
    workbench->flashes[half] = g_memdup2(flash, size);
    return true;
}

/* The half that the computer's cable is in. */
static unsigned with_cable(const struct workbench *workbench)
{
    return uvk_main_half(workbench->program->board) ^ workbench->options.other_host;
}

/* The one that was empty first, or the one that has gone to its bootloader. Then the USB cable
 * goes to the other one, if that is empty still. */
static bool serve_halves(struct workbench *workbench, GError **error)
{
    const struct uvk_board *board = workbench->program->board;
    unsigned first = workbench->flashes[0] == NULL ? 0 : with_cable(workbench);

    if (!serve_half(workbench, first, error)) {
        return false;
    }
    if (uvk_one_controller(board) || workbench->flashes[1 - first] != NULL) {
        return true;
    }
    printf("somebody takes the USB cable out of %s, and puts it into %s\n",
           board->halves[first].name, board->halves[1 - first].name);
    (void)fflush(stdout);
    g_usleep(AWAY_US);
    return serve_half(workbench, 1 - first, error);
}

bool serve_bootloader(struct workbench *workbench, GError **error)
{
    const struct uvk_board *board = workbench->program->board;
    unsigned first = with_cable(workbench);

    if (!serve_halves(workbench, error)) {
        return false;
    }
    workbench->options.other_flash = workbench->flashes[1 - first];
    workbench->options.other_size = flash_size(workbench);
    workbench->rig = uvk_rig_chip(workbench->program, workbench->flashes[first],
                                  flash_size(workbench), NULL, &workbench->options, error);
    if (workbench->rig == NULL) {
        return false;
    }
    workbench->restarts = 0;
    plug_keyboard(workbench);
    puts(uvk_one_controller(board)
             ? "the chip has started what was flashed, and the host knows it"
             : "the halves are joined, the USB cable is put in, and the host knows the "
               "keyboard");
    (void)fflush(stdout);
    return true;
}
