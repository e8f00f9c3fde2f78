<?php

declare(strict_types=1);

namespace Geschenk\Core\SecondPlace;

use Geschenk\Core\Failure;

/** The second place does not do what was asked; what the shop itself keeps is untouched by that. */
final class PlaceFailure extends Failure
{
    /** It can't be reached, or its disk is not mounted. */
    public static function gone(string $label, ?\Throwable $previous = null): self
    {
        return new self('place_gone', ['place' => $label], $previous);
    }

    /** @param string $act what was tried: list, read, write, remove */
    public static function at(string $label, string $act, string $path, ?\Throwable $previous = null): self
    {
        return new self('place_failure', ['place' => $label, 'act' => $act, 'path' => $path], $previous);
    }

    /** It is there, and is not the one that was begun: another disk, another shop's, or an empty one. */
    public static function other(string $label): self
    {
        return new self('place_other', ['place' => $label]);
    }

    /** It is another shop's: what that keeps there would be written over. */
    public static function taken(string $label): self
    {
        return new self('place_taken', ['place' => $label]);
    }

    /** It has keys of what the shop keeps that the shop itself has no more: they are not written over. */
    public static function hasKeys(string $label, int $count): self
    {
        return new self('place_has_keys', ['place' => $label, 'count' => $count]);
    }

    /** Nobody has said where it is. */
    public static function none(): self
    {
        return new self('place_none');
    }

    /** What was said of where it is can't be read; it may let somebody in, and is not told. */
    public static function noAddress(): self
    {
        return new self('place_address');
    }

    /** What lies there is not what was put there. */
    public static function altered(string $label, string $path): self
    {
        return new self('place_altered', ['place' => $label, 'path' => $path]);
    }

    /** It has no copy of that. */
    public static function without(string $label, string $name): self
    {
        return new self('place_without', ['place' => $label, 'path' => $name]);
    }

    /** Whether it is about one copy alone: others are gone on with. */
    public function isOfOneCopy(): bool
    {
        return in_array($this->reason, ['place_altered', 'place_without'], true);
    }
}
