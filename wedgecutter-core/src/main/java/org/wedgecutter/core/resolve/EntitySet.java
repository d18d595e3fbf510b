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

  /** Returns the entities from 0 to {@code count - 1} that pass a test. */
  public static EntitySet where(int count, IntPredicate test) {
    BitSet bits = new BitSet();
    for (int e = 0; e < count; e++) {
      if (test.test(e)) {
        bits.set(e);
      }
    }
    return new EntitySet(bits);
  }

  /** Returns a set of these bits, which must not be changed afterwards. */
  static EntitySet of(BitSet bits) {
    return new EntitySet(bits);
  }

  /** Returns the set of entities with these indices. */
  public static EntitySet of(java.util.Collection<Integer> indices) {
    BitSet bits = new BitSet();
    indices.forEach(bits::set);
    return new EntitySet(bits);
  }

  /** Returns a copy of the bits. */
  BitSet bits() {
    return (BitSet) bits.clone();
  }

  /** Returns the entities that are in both sets. */
  public EntitySet and(EntitySet other) {
    BitSet both = (BitSet) bits.clone();
    both.and(other.bits);
    return new EntitySet(both);
  }

  /** Returns the entities that are in this set and not in the other. */
  public EntitySet minus(EntitySet other) {
    BitSet rest = (BitSet) bits.clone();
    rest.andNot(other.bits);
    return new EntitySet(rest);
  }

  /** Whether any entity is in both sets. */
  public boolean meets(EntitySet other) {
    return bits.intersects(other.bits);
  }

  /** Returns the least index in it, or -1. */
  public int first() {
    return bits.nextSetBit(0);
  }

  /** Returns the indices in it, ascending. */
  public int[] indices() {
    return bits.stream().toArray();
  }

  /** Returns the entities that are in this set, the other, or both. */
  public EntitySet or(EntitySet other) {
    BitSet union = (BitSet) bits.clone();
    union.or(other.bits);
    return new EntitySet(union);
  }

  /** Whether an entity is in the set. */
  public boolean contains(int entity) {
    return bits.get(entity);
  }

  /** Whether every entity of another set is in this one. */
  public boolean containsAll(EntitySet other) {
    BitSet rest = (BitSet) other.bits.clone();
    rest.andNot(bits);
    return rest.isEmpty();
  }

  /** Whether there is no entity in it. */
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
