package org.wedgecutter.core.resolve;

import java.util.BitSet;
import java.util.function.IntPredicate;
import org.jspecify.annotations.Nullable;

/** An immutable set of entities, by their indices. */
public final class EntitySet {
  /** No entity. */
  public static final EntitySet NONE = new EntitySet(new BitSet());

  private final BitSet bits;

  private EntitySet(BitSet bits) {
    this.bits = bits;
  }

  /** Returns the entities from 0 to {@code count - 1} that a test takes. */
  public static EntitySet where(int count, IntPredicate test) {
    BitSet bits = new BitSet();
    for (int e = 0; e < count; e++) {
      bits.set(e, test.test(e));
    }
    return new EntitySet(bits);
  }

  /** Returns the entities that are in this set, the other, or both. */
  public EntitySet or(EntitySet other) {
    BitSet union = (BitSet) bits.clone();
    union.or(other.bits);
    return new EntitySet(union);
  }

  /** Says whether an entity is in the set. */
  public boolean contains(int entity) {
    return bits.get(entity);
  }

  /** Says whether every entity of another set is in this one. */
  public boolean containsAll(EntitySet other) {
    BitSet rest = (BitSet) other.bits.clone();
    rest.andNot(bits);
    return rest.isEmpty();
  }

  /** Says whether there is no entity in it. */
  public boolean isEmpty() {
    return bits.isEmpty();
  }

  /** Returns how many entities are in it. */
  public int size() {
    return bits.cardinality();
  }

  /** Returns membership by index, for inner loops. */
  public boolean[] toArray(int count) {
    boolean[] out = new boolean[count];
    for (int e = 0; e < count; e++) {
      out[e] = bits.get(e);
    }
    return out;
  }

  @Override
  public boolean equals(@Nullable Object other) {
    return other instanceof EntitySet that && bits.equals(that.bits);
  }

  @Override
  public int hashCode() {
    return bits.hashCode();
  }

  @Override
  public String toString() {
    return bits.toString();
  }
}
