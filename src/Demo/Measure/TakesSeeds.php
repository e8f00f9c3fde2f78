<?php

declare(strict_types=1);

namespace Geschenk\App\Demo\Measure;

use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;

/** Searches that go by a seed: how many, from which on, and JSON for whoever counts them together. */
trait TakesSeeds
{
    private function takeSeeds(int $usual): void
    {
        $this->addOption('seeds', null, InputOption::VALUE_REQUIRED, 'How many', (string) $usual)
            ->addOption('from', null, InputOption::VALUE_REQUIRED, 'The first of them', '1')
            ->addOption('json', null, InputOption::VALUE_NONE, 'Print JSON');
    }

    /** @return list<int>|null null where what was told is no number */
    private static function seeds(InputInterface $input): ?array
    {
        $numbers = [];
        foreach (['from', 'seeds'] as $name) {
            $told = $input->getOption($name);
            if (!is_string($told) || 1 !== preg_match('/^[1-9]\d{0,6}$/', $told)) {
                return null;
            }
            $numbers[] = (int) $told;
        }

        return range($numbers[0], $numbers[0] + $numbers[1] - 1);
    }
}
