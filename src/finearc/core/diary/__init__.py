"""Where a lesson can stand: what each instructor, bay, sensor set and player is taken for, and what is free."""
