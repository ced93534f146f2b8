#include "core/system/digest.h"

#define XXH_INLINE_ALL
#include "xxhash.h"

namespace dune {

Key Digest::key() const {
  const XXH128_hash_t hash = XXH3_128bits(bytes_.data(), bytes_.size());
  return {hash.low64, hash.high64};
}

}  // namespace dune
