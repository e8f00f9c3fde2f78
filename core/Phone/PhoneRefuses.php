<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

use Geschenk\Core\Hindrance;

/** The phone is connected and does not let this computer do what it asked. */
final class PhoneRefuses extends Hindrance
{
    public static function notAllowed(): self
    {
        return new self('not_allowed');
    }

    public static function debuggingOff(): self
    {
        return new self('debugging_off');
    }

    public static function locked(): self
    {
        return new self('locked');
    }

    /** It was started anew since somebody was at it, and waits for its PIN. */
    public static function restarted(): self
    {
        return new self('restarted');
    }

    /**
     * @param int $percent that it has
     * @param int $least   with which it goes on
     */
    public static function batteryLow(int $percent, int $least): self
    {
        return new self('battery_low', ['percent' => $percent, 'least' => $least]);
    }

    /** A number is being registered in the messenger: what is put there now may be thrown away by it. */
    public static function signingUp(string $name): self
    {
        return new self('number_under_way', ['name' => $name]);
    }

    public static function noApp(string $app): self
    {
        return new self('no_app', ['app' => $app]);
    }

    public static function noFile(string $path): self
    {
        return new self('no_file', ['path' => $path]);
    }

    public static function full(int $needed, int $free): self
    {
        return new self('phone_full', ['needed_bytes' => $needed, 'free_bytes' => $free]);
    }

    public static function changedMeanwhile(): self
    {
        return new self('changed_meanwhile');
    }

    public static function noStage(string $stage): self
    {
        return new self('no_stage', ['stage' => $stage]);
    }

    public static function stillWriting(): self
    {
        return new self('still_writing');
    }
}
