// SPDX-License-Identifier: Apache-2.0
#include "render/job.h"

#include <sys/resource.h>
#include <unistd.h>

namespace scorrere::render {

void workInBackground() {
    // The toolkit's thread priorities mean nothing to the usual scheduler; niceness is a thread's own on
    // Linux.
    (void)setpriority(PRIO_PROCESS, static_cast<id_t>(gettid()), 10);
}

} // namespace scorrere::render
