// Memory never grows, so views of it stay valid. Kernels keep nothing between calls but the tables that `allocate` gave room.

/** Room for `bytes`, for good: for tables that live as long as the module. */
export function allocate(bytes: i32): usize {
  return heap.alloc(bytes);
}
