package org.wedgecutter.core.resolve;

import java.util.AbstractList;
import java.util.Arrays;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.plan.Role;

/** The role of every entity in a layer and the row that decided it, by the entity's index. */
public final class Decisions extends AbstractList<Decision> {
  private static final Role[] ROLES = Role.values();
  private final byte[] roles;
  private final int[] rows;
  private final List<String> names;

  /**
   * @param roles by entity, as the role's number
   * @param rows by entity, place of the deciding collection, or -1 for the rest
   * @param names the collections' names
   */
  Decisions(byte[] roles, int[] rows, List<String> names) {
    this.roles = roles;
    this.rows = rows;
    this.names = names;
  }

  /** All entities with one role, decided by the rest. */
  public static Decisions all(int entities, Role role) {
    byte[] roles = new byte[entities];
    int[] rows = new int[entities];
    Arrays.fill(roles, (byte) role.ordinal());
    Arrays.fill(rows, -1);
    return new Decisions(roles, rows, List.of());
  }

  /** Returns an entity's role. */
  public Role role(int entity) {
    return ROLES[roles[entity]];
  }

  @Override
  public Decision get(int entity) {
    int row = rows[entity];
    return new Decision(role(entity), row < 0 ? null : names.get(row));
  }

  @Override
  public int size() {
    return roles.length;
  }

  /** Returns the entities of a role. */
  public EntitySet of(Role role) {
    byte number = (byte) role.ordinal();
    return EntitySet.where(roles.length, e -> roles[e] == number);
  }

  /** Returns the numbers of the collections that decide the role of any entity. */
  public EntitySet deciding() {
    java.util.BitSet bits = new java.util.BitSet();
    for (int row : rows) {
      if (row >= 0) {
        bits.set(row);
      }
    }
    return EntitySet.of(bits);
  }

  @Override
  public boolean equals(@Nullable Object other) {
    return other instanceof Decisions that
        && Arrays.equals(roles, that.roles)
        && Arrays.equals(rows, that.rows)
        && names.equals(that.names);
  }

  @Override
  public int hashCode() {
    return 31 * Arrays.hashCode(roles) + Arrays.hashCode(rows);
  }
}
