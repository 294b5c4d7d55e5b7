/* devices.c - what a DEVICE action does once, at the press; what lasts is seen in the holds. */
#include "deciding.h"
#include "lit.h"
#include "outputs.h"
#include "uvrek/port.h"

static void board(struct uvk_port *port, uint8_t act)
{
    if (act == UVK_BOARD_BOOTLOADER) {
        uvk_port_enter_bootloader(port);
    } else {
        uvk_port_restart(port, act == UVK_BOARD_RESET);
    }
}

void uvk_device_down(struct uvk_engine *engine, struct uvk_port *port, uvk_action action)
{
    uint8_t value = uvk_action_what(action);

    switch (uvk_action_how(action)) {
    case UVK_DEVICE_WHEEL:
        uvk_mouse_wheel(&engine->reports, (enum uvk_wheel)value);
        break;
    case UVK_DEVICE_BOARD:
        if (UVK_USE_BOARD) {
            board(port, value);
        }
        break;
    case UVK_DEVICE_BLOCK:
        uvk_blocks_flip(engine, value);
        break;
    case UVK_DEVICE_LONG_PRESS:
        uvk_long_press_flip(engine);
        break;
    case UVK_DEVICE_LEADER:
        uvk_leader_start(engine);
        break;
    case UVK_DEVICE_LIGHT:
        if (UVK_USE_LIGHT_CELLS) {
            uvk_lights_act(engine, value);
        }
        break;
    default:
        break;
    }
}
