<?php

declare(strict_types=1);

namespace Geschenk\App\Bench;

use Geschenk\Core\Stick\Sticks;
use Symfony\Component\DependencyInjection\Attribute\Autowire;

/** The sticks that this computer mounts below one folder; none where nobody said which. */
final readonly class MountedSticks implements Sticks
{
    public function __construct(#[Autowire('%env(GESCHENK_STICKS)%')] private string $folder)
    {
    }

    public function there(): array
    {
        $sticks = [];
        $names = '' === $this->folder ? false : @scandir($this->folder);
        foreach (false === $names ? [] : $names as $name) {
            $stick = '.' === $name || '..' === $name ? null : new MountedStick($this->folder, $name);
            if (true === $stick?->isThere()) {
                $sticks[] = $stick;
            }
        }

        return $sticks;
    }

    public function find(string $id): ?MountedStick
    {
        $name = MountedStick::name($id);

        return '' === $this->folder || null === $name ? null : new MountedStick($this->folder, $name);
    }
}
