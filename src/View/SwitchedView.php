<?php

declare(strict_types=1);

namespace Geschenk\App\View;

use Geschenk\App\Entity\SettingSeen;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Tray\HandOver\Switched;
use Geschenk\App\Words\Words;
use Geschenk\Core\Messenger\Formats;

/** What was switched on a tray's phones, in the words of whoever reads. */
final readonly class SwitchedView
{
    public function __construct(private Switched $switched, private Formats $formats, private Words $words)
    {
    }

    /**
     * @param string|null $language BCP 47; null for that of whoever asks
     *
     * @return list<array{tag: string, code: string, app: string, back: bool, text: string}>
     */
    public function of(Tray $tray, ?string $language = null): array
    {
        return array_map(fn (SettingSeen $seen): array => [
            'tag' => $seen->phone->tag, 'code' => $seen->code, 'app' => $seen->app, 'back' => $seen->isBack(),
            'text' => $this->words->say('switched.'.$seen->code, [
                'back' => $seen->isBack() ? 'yes' : 'no', 'earlier' => $seen->earlier,
                'name' => $this->formats->apps()[$seen->app]->edition ?? $seen->app,
            ], $language),
        ], $this->switched->of($tray));
    }
}
