<?php

declare(strict_types=1);

namespace Geschenk\App;

/** The environment of a process that works on what is foreign: nothing of ours, keys and secrets among it. */
final class Surroundings
{
    /**
     * @param array<string, string> $own
     *
     * @return array<string, string|false> as Symfony's Process has it: false for what is not handed on
     */
    public static function only(array $own = []): array
    {
        $only = ['PATH' => (string) getenv('PATH'), 'LANG' => 'C.UTF-8'] + $own;
        foreach ([getenv(), $_ENV, $_SERVER] as $ours) {
            foreach (array_keys($ours) as $name) {
                $only[(string) $name] ??= false;
            }
        }

        return $only;
    }
}
