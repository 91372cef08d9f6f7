#include "plane-contact.h"

MAIN(plane_contact(1, 200000, 200, 0))
